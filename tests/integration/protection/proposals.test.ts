import { mkdirSync, readFileSync } from 'node:fs';
import { userInfo } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { readFileLevel } from '../../../src/core/protection/stamp/stamp-file.ts';
import { writeStaff } from '../../../src/server/accounts/staff/staff.ts';
import type { Context } from '../../../src/server/context.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { closeLensThreads } from '../../../src/server/holdings/items/index/ask-lens.ts';
import { closeReadings } from '../../../src/server/holdings/surveys/open-readings.ts';
import { closeSurveyThreads } from '../../../src/server/holdings/surveys/survey-threads.ts';
import { makeProposals } from '../../../src/server/protection/proposals/make-proposals.ts';
import { hereByLink, staffLink } from '../../../src/server/accounts/staff/staff-link.ts';
import { idOfToken } from '../../../src/server/http/signed-link.ts';
import { openProposals, sayToProposal } from '../../../src/server/protection/proposals/proposals.ts';
import { levelOfItem } from '../../../src/server/protection/levels/item-level.ts';
import { levelOutlook } from '../../../src/server/protection/rules/level-outlook.ts';
import { LEVEL_RULE } from '../../../src/server/protection/rules/level-rules.ts';
import { moveRule } from '../../../src/server/rules/rule-moves.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { Count } from '../../../src/server/store/columns.ts';
import { freshDatabase } from '../../fresh-database.ts';
import { testAccount } from '../context.ts';
import { folderSource, newSurvey, survey, tempFolder, writeFiles } from '../holdings/estate.ts';
import { level, levelRule, wordFile } from './levels.ts';

const home = tempFolder();
let ctx: Context;
let officer: Account;
let root: string;
let strict = '';
let rule = '';
const ADDRESS = `${userInfo().username}@line.example`.toLowerCase();

beforeAll(async () => {
  const { url, store } = await freshDatabase('yare_proposals');
  ctx = {
    store,
    settings: readSettings({
      DATABASE_URL: url,
      SECRET_KEY: 'ab'.repeat(32),
      LOG_LEVEL: 'silent',
      SOURCE_ROOTS: home.path,
      SMTP_URL: 'smtp://127.0.0.1:1',
    }),
    now: () => new Date(),
  };
  root = join(home.path, 'share');
  mkdirSync(root);
  writeFiles(root, {
    'a.docx': await wordFile('Write to jens@ferry.example.'),
    'b.docx': await wordFile('Write to ida@ferry.example.'),
    'c.docx': await wordFile('Nothing at all.'),
  });
  officer = await testAccount(ctx);
  await survey(ctx, await newSurvey(ctx, [await folderSource(ctx, root)]));
  strict = await level(ctx, officer.id, { name: 'Strict' });
  await store.transaction((tx) =>
    writeStaff(tx, ctx.now(), null, {
      members: [{ address: ADDRESS, name: 'Who Owns It', unit: '', groups: [], left: null }],
      groups: [],
    }),
  );
}, 120_000);
afterAll(async () => {
  await closeReadings();
  await closeSurveyThreads();
  await closeLensThreads();
  await ctx.store.close();
  home.remove();
});

const open = async () => (await openProposals(ctx, { account: officer })).proposals;
const letters = async () =>
  (await ctx.store.one(z.object({ n: Count }), 'SELECT COUNT(*) AS n FROM outgoing_message'))?.n;
const carried = async (name: string) => (await readFileLevel(readFileSync(join(root, name))))?.id;

describe('a rule that asks the owner', () => {
  it('tells before whom it would ask, and asks nobody while it is a draft', async () => {
    rule = await levelRule(ctx, officer.id, { level: strict, where: 'data one of "email"', how: 'propose' });
    const outlook = await levelOutlook(ctx, officer, rule);
    expect(outlook.rules.find((r) => r.id === rule)).toMatchObject({ proposed: 2, set: 0, holds: 2 });
    expect(outlook).toMatchObject({ changes: 2, stamped: 2 });
    expect(outlook.sample[0]?.words.at(-1)).toMatch(
      /^“Rule .*” asks its owner for Strict, because what it holds is E/,
    );
    await makeProposals(ctx);
    expect(await open()).toEqual([]);
  });

  it('asks once it is in force, by one letter, and sets nothing', async () => {
    await ctx.store.transaction((tx) =>
      moveRule(tx, ctx.now(), LEVEL_RULE, officer.id, rule, 'put in force', 1),
    );
    await makeProposals(ctx);
    expect((await open()).map((p) => [p.name, p.levelName, p.owner, p.has])).toEqual([
      ['a.docx', 'Strict', 'Who Owns It', null],
      ['b.docx', 'Strict', 'Who Owns It', null],
    ]);
    expect(await carried('a.docx')).toBeUndefined();
    expect(await letters()).toBe(1);
    await makeProposals(ctx);
    expect(await letters()).toBe(1);
    // What comes later the same day is told the next.
    await ctx.store.run("UPDATE level_proposal SET told = 0 WHERE state = 'open'");
    await makeProposals(ctx);
    expect(await letters()).toBe(1);
    await makeProposals({ ...ctx, now: () => new Date(Date.now() + 86_400_000) });
    expect(await letters()).toBe(2);
    // A worker that was killed before it told anybody, or Today.
    await ctx.store.run('DELETE FROM outgoing_message');
    await ctx.store.run('UPDATE level_proposal SET told = 0');
    await ctx.store.run('UPDATE level_policy SET proposed_from = NULL WHERE id = 1');
    await ctx.store.run("DELETE FROM today_item WHERE kind = 'level proposed'");
    await makeProposals(ctx);
    expect(await letters()).toBe(1);
    expect((await levelOutlook(ctx, officer)).changes).toBe(0);
    const today = await todayItems(ctx, officer);
    expect(today.find((t) => t.kind === 'level proposed')?.words).toMatch(/^2 items wait in/);
  });

  it('leaves what its owner said no to, and does not ask again', async () => {
    const [a] = await open();
    const staff = idOfToken(ctx, 'proposed', staffLink(ctx, 'proposed', 1).split('/').at(-1) ?? '') ?? 0;
    await expect(
      sayToProposal(ctx, { staff: 999 }, { item: a?.item ?? 0, rule, agree: true, reason: '' }),
    ).rejects.toMatchObject({ status: 403 });
    await sayToProposal(
      ctx,
      { staff },
      { item: a?.item ?? 0, rule, agree: false, reason: 'It is a timetable' },
    );
    await expect(
      sayToProposal(ctx, { staff }, { item: a?.item ?? 0, rule, agree: true, reason: '' }),
    ).rejects.toMatchObject({ status: 409 });
    await ctx.store.run('UPDATE level_policy SET proposed_from = NULL WHERE id = 1');
    await makeProposals(ctx);
    expect((await open()).map((p) => p.name)).toEqual(['b.docx']);
    expect(await carried('a.docx')).toBeUndefined();
  });

  it('stamps what they agree to; somebody on the desk may answer for them', async () => {
    const [b] = await open();
    const shown = await levelOfItem(ctx, b?.item ?? 0);
    expect(shown.asked).toMatchObject([{ levelName: 'Strict', owner: 'Who Owns It' }]);
    expect(
      await sayToProposal(ctx, { account: officer }, { item: b?.item ?? 0, rule, agree: true, reason: '' }),
    ).toEqual({ unstamped: null });
    expect(await carried('b.docx')).toBe(strict);
    expect((await levelOfItem(ctx, b?.item ?? 0)).stands).toMatchObject({ level: strict });
    expect(await open()).toEqual([]);
    expect((await todayItems(ctx, officer)).some((t) => t.kind === 'level proposed')).toBe(false);
  });

  it('asks anew where it was of another level, and lowers nothing that was set meanwhile', async () => {
    await ctx.store.run("DELETE FROM level_proposal WHERE state = 'declined'");
    await ctx.store.run('UPDATE level_policy SET proposed_from = NULL WHERE id = 1');
    await makeProposals(ctx);
    expect((await open()).map((p) => p.name)).toEqual(['a.docx']);
    await ctx.store.run("UPDATE level_proposal SET level = 'an old one' WHERE state = 'open'");
    await ctx.store.run('UPDATE level_policy SET proposed_from = NULL WHERE id = 1');
    await makeProposals(ctx);
    const [a] = await open();
    expect(a).toMatchObject({ name: 'a.docx', level: strict });
    await ctx.store.run(
      "INSERT INTO item_level (item_id, level, set_by, set_at) VALUES (?, ?, 'hand', NOW(3))",
      [a?.item, strict],
    );
    await expect(
      sayToProposal(ctx, { account: officer }, { item: a?.item ?? 0, rule, agree: true, reason: '' }),
    ).rejects.toMatchObject({ status: 409 });
    expect(await carried('a.docx')).toBeUndefined();
    await ctx.store.run('DELETE FROM item_level WHERE item_id = ?', [a?.item]);
  });

  it('takes back what it asked once it is paused', async () => {
    expect((await open()).map((p) => p.name)).toEqual(['a.docx']);
    await ctx.store.transaction((tx) => moveRule(tx, ctx.now(), LEVEL_RULE, officer.id, rule, 'pause', 0));
    await makeProposals(ctx);
    expect(await open()).toEqual([]);
  });
});

describe('the link of an owner', () => {
  it('opens nothing once they left, or are in no list of staff', async () => {
    const token = (staff: number) => staffLink(ctx, 'proposed', staff).split('/').at(-1) ?? '';
    expect((await hereByLink(ctx, 'proposed', token(1)))?.id).toBe(1);
    expect(await hereByLink(ctx, 'proposed', token(42))).toBeUndefined();
    await ctx.store.run("UPDATE staff SET left_on = '2026-01-01' WHERE id = 1");
    expect(await hereByLink(ctx, 'proposed', token(1))).toBeUndefined();
  });

  it('opens what they are asked for a month, and nothing that is forged', () => {
    const token = staffLink(ctx, 'proposed', 42).split('/').at(-1) ?? '';
    expect(idOfToken(ctx, 'proposed', token)).toBe(42);
    expect(
      idOfToken({ ...ctx, now: () => new Date(Date.now() + 32 * 86_400_000) }, 'proposed', token),
    ).toBeUndefined();
    for (const wrong of ['', token.replace('42', '43'), `${token}x`, token.slice(0, -1), '1.2.3'])
      expect(idOfToken(ctx, 'proposed', wrong), wrong).toBeUndefined();
  });
});
