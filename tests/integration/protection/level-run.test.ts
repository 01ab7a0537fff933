import { chmodSync, mkdirSync, readFileSync, rmSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ImapFlow } from 'imapflow';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { Marking } from '../../../src/core/protection/stamp/marking.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { findLostMarkings } from '../../../src/server/protection/levels/lost-markings.ts';
import { LEVEL_POLICY, setLevelsByThemselves } from '../../../src/server/protection/runs/level-policy.ts';
import { editObject } from '../../../src/server/rules/plain-object.ts';
import { readFileLevel, stampFile, unstampFile } from '../../../src/core/protection/stamp/stamp-file.ts';
import { touchBlocks } from '../../../src/server/holdings/items/item-blocks.ts';
import { testItem, testSource } from '../holdings/estate-rows.ts';
import { closeLensThreads } from '../../../src/server/holdings/items/index/ask-lens.ts';
import { closeReadings } from '../../../src/server/holdings/surveys/open-readings.ts';
import { closeSurveyThreads } from '../../../src/server/holdings/surveys/survey-threads.ts';
import { dropOldCopies } from '../../../src/server/holdings/items/kept-copy.ts';
import { levelOfItem } from '../../../src/server/protection/levels/item-level.ts';
import {
  addNamedLevel,
  LEVEL,
  levelRanks,
  orderLevels,
} from '../../../src/server/protection/levels/levels.ts';
import { levelSides, pdfSide } from '../../../src/server/protection/levels/level-sides.ts';
import { setLevelByHand } from '../../../src/server/protection/levels/set-level.ts';
import { LEVEL_RULE } from '../../../src/server/protection/rules/level-rules.ts';
import { moveRule } from '../../../src/server/rules/rule-moves.ts';
import { insertSource } from '../../../src/server/holdings/sources/sources.ts';
import { USUAL_SOURCE } from '../../../src/core/holdings/sources/source.ts';
import { removeDraft } from '../../../src/server/rules/rule-remove.ts';
import { levelOutlook } from '../../../src/server/protection/rules/level-outlook.ts';
import { ANY_LEVEL_RUN, LEVEL_RUN, LevelRunPlan } from '../../../src/server/protection/runs/level-run.ts';
import {
  listLevelRuns,
  proposeLevelRun,
  proposeUndo,
  viewLevelRun,
} from '../../../src/server/protection/runs/level-runs.ts';
import { ANY_LEVEL_UNDO } from '../../../src/server/protection/runs/level-undo.ts';
import { findRun } from '../../../src/server/runs/run-store.ts';
import { moveRun } from '../../../src/server/runs/runs.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { BigId } from '../../../src/server/store/columns.ts';
import { freePorts } from '../../../launcher/free-port.ts';
import { startDovecot } from '../../servers/dovecot.ts';
import { freshDatabase } from '../../fresh-database.ts';
import { testAccount } from '../context.ts';
import type { Context } from '../../../src/server/context.ts';
import {
  folderSource,
  newSurvey,
  results,
  runToEnd,
  survey,
  tempFolder,
  writeFiles,
  runUntil,
  withWorkers,
} from '../holdings/estate.ts';
import { level, levelRule, sheetFile, wordFile } from './levels.ts';

const MARKING = Marking.parse({ footer: { text: 'Strict' } });
const home = tempFolder();
let ctx: Context;
let officer: Account;
let root: string;
let source: number;
let [internal, strict] = ['', ''];
let everything = '';

beforeAll(async () => {
  const { url, store } = await freshDatabase('yare_levels');
  ctx = {
    store,
    settings: readSettings({
      DATABASE_URL: url,
      SECRET_KEY: 'ab'.repeat(32),
      LOG_LEVEL: 'silent',
      SOURCE_ROOTS: home.path,
    }),
    now: () => new Date(),
  };
  root = join(home.path, 'share');
  mkdirSync(root);
  writeFiles(root, {
    'cards.xlsx': await sheetFile(['Navn', 'Kort'], ['Jens Hansen', '4111 1111 1111 1111']),
    'letter.docx': await wordFile('Skriv til jens@ferry.example.'),
    'notes/plain.txt': 'Nothing at all.',
    'notes/broken.docx': (await wordFile('Cut off')).subarray(0, 3000),
    'notes/plan.docx': await wordFile('Next year we sail twice a day.'),
  });
  utimesSync(join(root, 'letter.docx'), 1_700_000_000, 1_700_000_000);
  officer = await testAccount(ctx);
  source = await folderSource(ctx, root);
  await survey(ctx, await newSurvey(ctx, [source]));
  internal = await level(ctx, officer.id, { name: 'Internal', shown: 'For us alone' });
  strict = await level(ctx, officer.id, { name: 'Strict' });
  everything = await levelRule(
    ctx,
    officer.id,
    { level: internal, where: 'everything', keeps: 'step' },
    'put in force',
  );
}, 120_000);

afterAll(async () => {
  await closeReadings();
  await closeSurveyThreads();
  await closeLensThreads();
  await ctx.store.close();
  home.remove();
});

const set = (mode: 'set' | 'rehearse' = 'set', rule?: string) =>
  runToEnd(ctx, ANY_LEVEL_RUN, () => proposeLevelRun(ctx, officer, { mode, rule, keepDays: 30 }));
const undo = (run: string) => runToEnd(ctx, ANY_LEVEL_UNDO, () => proposeUndo(ctx, officer.id, run));
const bytes = (path: string) => readFileSync(join(root, path));
const carried = async (path: string) => (await readFileLevel(bytes(path)))?.id;
const Row = z.object({
  id: BigId.transform(Number),
  name: z.string(),
  level: z.string().nullable(),
  set_by: z.string().nullable(),
  unstamped: z.string().nullable(),
});
const items = async () => {
  const rows = await ctx.store.all(
    Row,
    'SELECT i.id, i.name, l.level, l.set_by, l.unstamped FROM item i LEFT JOIN item_level l ON l.item_id = i.id WHERE i.source_id = ? ORDER BY i.name',
    [source],
  );
  return new Map(rows.map((r) => [r.name, r]));
};

describe('setting levels backwards', () => {
  it('is rehearsed on the real documents, and changes none', async () => {
    const strictCards = await levelRule(ctx, officer.id, {
      level: strict,
      where: 'data one of "payment-card"',
    });
    const outlook = await levelOutlook(ctx, officer, strictCards);
    expect(outlook).toMatchObject({ changes: 1, stamped: 1, noted: [] });
    expect(outlook.sample[0]?.words).toEqual([
      expect.stringMatching(/^Strict by “Rule .*”, because what it holds is Payment card.*\.$/),
      expect.stringMatching(/^Internal by “Rule .*” is weaker and loses\.$/),
    ]);
    const before = bytes('cards.xlsx');
    const run = await set('rehearse', strictCards);
    expect(run.state, run.error ?? '').toBe('done');
    const found = await results(ctx, run.id);
    expect(found.map((r) => [r['name'], r['is'], r['to']])).toEqual(
      expect.arrayContaining([
        ['cards.xlsx', 'stamped', 'Strict'],
        ['letter.docx', 'stamped', 'Internal'],
        ['plain.txt', 'noted', 'Internal'],
      ]),
    );
    expect(bytes('cards.xlsx').equals(before)).toBe(true);
    expect([...(await items()).values()].every((i) => i.level === null)).toBe(true);
    await expect(proposeUndo(ctx, officer.id, run.id)).rejects.toMatchObject({ status: 409 });
  });

  it('stamps what carries a marking, notes the rest with why, and is undone to the byte', async () => {
    const before = new Map(['cards.xlsx', 'letter.docx', 'notes/plan.docx'].map((p) => [p, bytes(p)]));
    const run = await set();
    expect(run.state, run.error ?? '').toBe('done');
    expect(run.outcome).toMatchObject({ stamped: 3, noted: 1, refused: 1 });
    expect(await Promise.all([...before.keys()].map(carried))).toEqual([internal, internal, internal]);
    expect(bytes('letter.docx').includes('PK')).toBe(true);
    // What retention counts by is as it was.
    expect(statSync(join(root, 'letter.docx')).mtimeMs).toBe(1_700_000_000_000);
    const now = await items();
    expect(now.get('letter.docx')).toMatchObject({
      level: internal,
      set_by: `rule:${everything}`,
      unstamped: null,
    });
    expect(now.get('plain.txt')?.unstamped).toMatch(/plain text carries no marking/);
    expect(now.get('broken.docx')).toMatchObject({
      level: internal,
      unstamped: expect.stringMatching(/cannot be unpacked/) as string,
    });
    expect((await levelOutlook(ctx, officer)).changes).toBe(0);
    const view = await viewLevelRun(ctx, run.id);
    expect(view).toMatchObject({ copies: 3, counts: { stamped: 3, noted: 1, refused: 1 } });

    // What was stamped here is no edit of somebody's: nothing is read again.
    const again = await survey(ctx, await newSurvey(ctx, [source]));
    expect(again.outcome).toMatchObject({ items: 0 });

    writeFileSync(join(root, 'notes/plan.docx'), await wordFile('Somebody wrote this since.'));
    const undone = await undo(run.id);
    expect(undone.outcome).toMatchObject({ undone: 4, left: 1 });
    for (const path of ['cards.xlsx', 'letter.docx'])
      expect(bytes(path).equals(before.get(path)!)).toBe(true);
    const after = await items();
    expect(after.get('letter.docx')?.level).toBeNull();
    expect(after.get('plan.docx')?.level).toBe(internal);
    // Once more changes nothing.
    expect((await undo(run.id)).outcome).toMatchObject({ items: 1, left: 1 });
  });

  it('does what changed since the survey only once it is surveyed again', async () => {
    expect((await set()).outcome).toMatchObject({ stamped: 2 });
    expect((await items()).get('plan.docx')?.level).toBe(internal);
    await survey(ctx, await newSurvey(ctx, [source]));
    writeFileSync(join(root, 'letter.docx'), await wordFile('Nobody has read this yet: 4111 1111 1111 1111'));
    const cards = await levelRule(
      ctx,
      officer.id,
      { level: strict, where: 'name holding "letter"' },
      'put in force',
    );
    const run = await set();
    expect(await results(ctx, run.id)).toEqual([
      expect.objectContaining({
        is: 'left',
        name: 'letter.docx',
        why: expect.stringMatching(/survey it again/) as string,
      }),
    ]);
    expect(await carried('letter.docx')).toBeUndefined();
    await survey(ctx, await newSurvey(ctx, [source]));
    expect((await set()).outcome).toMatchObject({ stamped: 1 });
    expect(await carried('letter.docx')).toBe(strict);
    expect((await items()).get('letter.docx')?.set_by).toBe(`rule:${cards}`);
  });

  it('leaves what somebody chose unless a rule is stronger, and asks for a reason to lower it', async () => {
    const { id } = (await items()).get('cards.xlsx')!;
    await expect(setLevelByHand(ctx, officer, id, { level: 'none', reason: '' })).rejects.toMatchObject({
      fields: [{ field: 'level' }],
    });
    await setLevelByHand(ctx, officer, id, { level: strict, reason: '' });
    expect(await carried('cards.xlsx')).toBe(strict);
    await expect(setLevelByHand(ctx, officer, id, { level: internal, reason: '' })).rejects.toMatchObject({
      fields: [{ field: 'reason' }],
    });
    expect((await levelOfItem(ctx, id)).why).toEqual([
      'Strict, as somebody chose by hand.',
      expect.stringMatching(/^Internal by “Rule .*” is not stronger, and leaves it\.$/),
    ]);
    expect((await set()).outcome).toMatchObject({ items: 0 });
    await setLevelByHand(ctx, officer, id, { level: internal, reason: 'The cards are test cards.' });
    expect(await carried('cards.xlsx')).toBe(internal);
    // The order of levels turns around: what was stronger is not any more.
    const order = (stronger: string[]) =>
      ctx.store.transaction((tx) => orderLevels(tx, ctx.now(), officer.id, stronger));
    await expect(order([internal])).rejects.toMatchObject({ status: 409 });
    await order([internal, strict]);
    expect((await levelOutlook(ctx, officer)).rules[0]).toMatchObject({ level: 'Internal' });
    await order([strict, internal]);
  });

  it('finishes what a worker that died had begun: new documents stay, old ones are done, those of others are left', async () => {
    const plan = await planNow();
    const run = await runToEndButDie(plan);
    await expect(proposeLevelRun(ctx, officer, { mode: 'set', keepDays: 1 })).rejects.toMatchObject({
      status: 409,
    });
    await ctx.store.transaction((tx) => moveRun(tx, ctx, ANY_LEVEL_RUN, null, plan.id, 'cancel'));
    expect(run.killed).toBe(3);
    const done = await set();
    expect(done.state).toBe('done');
    expect(await carried('new/a.docx')).toBe(strict);
    expect(await carried('new/b.docx')).toBe(strict);
    expect(bytes('new/c.docx').equals(run.theirs)).toBe(true);
  });

  async function planNow() {
    writeFiles(root, {
      'new/a.docx': await wordFile('One'),
      'new/b.docx': await wordFile('Two'),
      'new/c.docx': await wordFile('Three'),
    });
    await survey(ctx, await newSurvey(ctx, [source]));
    await levelRule(ctx, officer.id, { level: strict, where: `place in "${source}/new"` }, 'put in force');
    const id = await proposeLevelRun(ctx, officer, { mode: 'set', keepDays: 30 });
    return findRun(ctx.store, id);
  }

  /** Every document is written as the worker dies, before it can say so; one is then lost again, one edited. */
  async function runToEndButDie(run: Awaited<ReturnType<typeof planNow>>) {
    const stepping = {
      run,
      plan: LevelRunPlan.parse(run.plan),
      part: String(source),
      place: null,
      signal: new AbortController().signal,
    };
    const old = bytes('new/b.docx');
    const first = await LEVEL_RUN.step(ctx, stepping);
    const killed = first.done.length;
    const stamped = bytes('new/a.docx');
    writeFileSync(join(root, 'new/b.docx'), old);
    const theirs = await wordFile('Three, by somebody else');
    writeFileSync(join(root, 'new/c.docx'), theirs);
    // Another worker takes the same step up.
    const second = await LEVEL_RUN.step(ctx, stepping);
    await ctx.store.transaction((tx) => LEVEL_RUN.keep!(tx, ctx, stepping, second));
    const told = Object.fromEntries(second.done.map((d) => [d.item.name, [d.state, d.why]]));
    expect(told['a.docx']).toEqual(['stamped', '']);
    expect(told['c.docx']).toEqual(['left', expect.stringMatching(/Somebody changed it/)]);
    expect(bytes('new/a.docx').equals(stamped)).toBe(true);
    return { killed, theirs };
  }

  it('finds what lost its marking at the next survey, tells it on Today, and stamps it anew', async () => {
    writeFileSync(join(root, 'new/a.docx'), unstampFile(bytes('new/a.docx')).bytes);
    const edited = await stampFile(await wordFile('Two, with more in it'), MARKING, {
      id: strict,
      name: 'Strict',
    });
    writeFileSync(join(root, 'new/b.docx'), edited.bytes);
    writeFileSync(join(root, 'kopi.docx'), edited.bytes);
    await survey(ctx, await newSurvey(ctx, [source]));
    await findLostMarkings(ctx);
    const now = await items();
    expect(now.get('a.docx')?.unstamped).toBe('It lost its marking; it is stamped anew when levels are set.');
    expect(now.get('b.docx')).toMatchObject({ level: strict, unstamped: null });
    const today = async () =>
      (await todayItems(ctx, officer)).filter((i) => i.kind === 'marking lost').map((i) => i.words);
    // And the one that somebody wrote anew long before.
    expect(await today()).toEqual([expect.stringMatching(/^2 documents in .* lost the marking$/)]);
    expect((await levelOutlook(ctx, officer)).lost).toBe(2);

    const run = await set();
    expect(run.state, run.error ?? '').toBe('done');
    expect(await carried('new/a.docx')).toBe(strict);
    expect(await carried('notes/plan.docx')).toBe(internal);
    expect(await today()).toEqual([]);
    // What a copy says of itself stands, where no rule is stronger.
    expect((await items()).get('kopi.docx')).toMatchObject({ level: strict, set_by: 'document' });
    expect(bytes('kopi.docx').equals(Buffer.from(edited.bytes))).toBe(true);
    expect(bytes('new/b.docx').equals(Buffer.from(edited.bytes))).toBe(true);
  });

  it('puts back what a copy said of itself, where a stronger rule raised it and is undone', async () => {
    const { bytes: copy } = await stampFile(await wordFile('A copy'), MARKING, {
      id: internal,
      name: 'Internal',
    });
    writeFileSync(join(root, 'copy of letter.docx'), copy);
    await survey(ctx, await newSurvey(ctx, [source]));
    const run = await set();
    expect(await results(ctx, run.id)).toEqual([
      expect.objectContaining({
        name: 'copy of letter.docx',
        change: 'raised',
        from: 'Internal',
        to: 'Strict',
      }),
    ]);
    expect(await carried('copy of letter.docx')).toBe(strict);
    expect((await undo(run.id)).outcome).toMatchObject({ undone: 1 });
    expect(bytes('copy of letter.docx').equals(Buffer.from(copy))).toBe(true);
    const now = (await items()).get('copy of letter.docx');
    expect(now).toMatchObject({ level: internal, set_by: 'document' });
    rmSync(join(root, 'copy of letter.docx'));
    await survey(ctx, await newSurvey(ctx, [source]));
  });

  it('is done by itself once a survey has ended, where that is wanted, and once for each', async () => {
    writeFiles(root, { 'late.docx': await wordFile('Late') });
    await survey(ctx, await newSurvey(ctx, [source]));
    await setLevelsByThemselves(ctx);
    const open = async () => (await listLevelRuns(ctx.store)).filter((r) => r.endedAt === null);
    const before = (await open()).map((r) => r.id);
    await ctx.store.transaction((tx) =>
      editObject(tx, ctx.now(), LEVEL_POLICY, officer.id, 1, {
        revision: 0,
        base: { byItself: 'never', keepDays: 30 },
        content: { byItself: 'after each survey', keepDays: 7 },
      }),
    );
    for (const id of before)
      await ctx.store.transaction((tx) => moveRun(tx, ctx, ANY_LEVEL_RUN, null, id, 'cancel'));
    await setLevelsByThemselves(ctx);
    await setLevelsByThemselves(ctx);
    const [run, ...more] = await open();
    expect(more).toEqual([]);
    const work = (is: Parameters<typeof runUntil>[2]) =>
      withWorkers(ctx, 1, () => runUntil(ctx, run!.id, is), [ANY_LEVEL_RUN]);
    await work((r) => r.state === 'estimated');
    await setLevelsByThemselves(ctx);
    await work((r) => r.ended_at !== null);
    expect((await viewLevelRun(ctx, run!.id)).keepDays).toBe(7);
    expect(await carried('late.docx')).toBe(internal);
    await setLevelsByThemselves(ctx);
    expect(await open()).toEqual([]);
  });

  it('tries a rule that rehearses by itself, once on what was surveyed last', async () => {
    const tried = await levelRule(
      ctx,
      officer.id,
      { level: strict, where: 'format one of "XLSX"' },
      'rehearse',
    );
    const asks = await levelRule(
      ctx,
      officer.id,
      { level: strict, where: 'everything', how: 'propose' },
      'rehearse',
    );
    const made = async () => (await listLevelRuns(ctx.store)).filter((r) => r.mode === 'rehearse');
    const before = (await made()).length;
    await setLevelsByThemselves(ctx);
    await setLevelsByThemselves(ctx);
    const [run] = await made();
    expect((await made()).length).toBe(before + 1);
    expect((await findRun(ctx.store, run!.id)).object_id).toBe(tried);
    const work = (is: Parameters<typeof runUntil>[2]) =>
      withWorkers(ctx, 1, () => runUntil(ctx, run!.id, is), [ANY_LEVEL_RUN]);
    await work((r) => r.state === 'estimated');
    await setLevelsByThemselves(ctx);
    await work((r) => r.ended_at !== null);
    await setLevelsByThemselves(ctx);
    expect((await made()).length).toBe(before + 1);
    for (const id of [tried, asks])
      await ctx.store.transaction((tx) =>
        moveRule(tx, ctx.now(), LEVEL_RULE, officer.id, id, 'end rehearsal', 0),
      );
  });

  it('shows an item before and after, its values masked, and why it would stay as it is', async () => {
    const ids = await items();
    const idOf = (name: string) => ids.get(name)?.id ?? 0;
    const letter = await levelSides(ctx, officer, idOf('letter.docx'), strict);
    expect(letter).toMatchObject({ level: 'Strict', format: 'DOCX', why: '', isPdf: false });
    expect(letter.marking?.footer?.text).toBe('Strict');
    expect(letter.pieces.map((p) => ('text' in p ? p.text : p.masked)).join('')).not.toContain('jens@ferry');
    expect(await levelSides(ctx, officer, idOf('plain.txt'), strict)).toMatchObject({
      marking: null,
      why: expect.stringContaining('carries'),
    });
    await expect(levelSides(ctx, officer, idOf('letter.docx'), 'gone')).rejects.toThrow('not in force');
    await expect(
      pdfSide(ctx, officer, idOf('letter.docx'), { level: strict, side: 'after' }),
    ).rejects.toThrow('no PDF');
  });

  it('stamps messages in mail folders, and puts them back to the byte', async () => {
    const box = join(home.path, 'mail');
    const message = 'From: a@ferry.example\nTo: b@ferry.example\nSubject: Berth 4\n\nThe ramp is bent.\n';
    const invites = `From: a@ferry.example\nTo: b@ferry.example\nSubject: Meet\nMIME-Version: 1.0\nContent-Type: text/calendar; charset=utf-8\n\nBEGIN:VCALENDAR\nBEGIN:VEVENT\nSUMMARY:Meet\nEND:VEVENT\nEND:VCALENDAR\n`;
    for (const sub of ['cur', 'new', 'tmp']) mkdirSync(join(box, 'desk', sub), { recursive: true });
    writeFileSync(join(box, 'desk/cur/1.a:2,S'), message);
    writeFileSync(join(box, 'desk/cur/2.b:2,S'), invites);
    writeFileSync(join(box, 'old.mbox'), `From a Mon Nov 23 10:00:00 2026\n${message}\n`);
    const mail = await ctx.store.transaction((tx) =>
      insertSource(tx, ctx, null, {
        content: { ...USUAL_SOURCE, name: 'Mail' },
        address: { kind: 'mail folder', root: box },
        secret: '',
      }),
    );
    await survey(ctx, await newSurvey(ctx, [mail]));
    const run = await set();
    const kept = await ctx.store.all(
      z.object({ title: z.string(), unstamped: z.string().nullable() }),
      'SELECT i.title, l.unstamped FROM item i JOIN item_level l ON l.item_id = i.id WHERE i.source_id = ? ORDER BY i.title, l.unstamped',
      [mail],
    );
    expect(kept).toEqual([
      { title: 'Berth 4', unstamped: null },
      { title: 'Berth 4', unstamped: 'The mailbox is one file, into which mail may come meanwhile.' },
      { title: 'Meet', unstamped: 'Internal does not go on invitations.' },
    ]);
    const stamped = readFileSync(join(box, 'desk/cur/1.a:2,S'));
    expect((await readFileLevel(stamped))?.id).toBe(internal);
    expect(stamped.toString()).toContain('The ramp is bent.\n\n\nFor us alone');
    await undo(run.id);
    expect(readFileSync(join(box, 'desk/cur/1.a:2,S'), 'utf8')).toBe(message);
  });

  it('stamps messages on a mail server, where the new one takes the place and the row of the old', async () => {
    const folder = join(home.path, 'imap');
    mkdirSync(folder, { recursive: true });
    for (const open of [home.path, folder]) chmodSync(open, 0o777);
    const [port = 0] = await freePorts(1);
    const starting = startDovecot(folder, port, 'desk', 'kept-from-sight');
    chmodSync(join(folder, 'mail'), 0o777);
    const server = await starting;
    const writer = new ImapFlow({
      ...{ host: '127.0.0.1', port, secure: false, logger: false },
      auth: { user: 'desk', pass: 'kept-from-sight' },
    });
    try {
      await writer.connect();
      const message =
        'From: a@ferry.example\r\nTo: b@ferry.example\r\nSubject: By IMAP\r\n\r\nThe ramp is bent.\r\n';
      await writer.append('INBOX', message, ['\\Seen']);
      const local = { ...ctx, settings: { ...ctx.settings, ALLOWED_PRIVATE: `127.0.0.1:${port}` } };
      const mail = await ctx.store.transaction((tx) =>
        insertSource(tx, local, null, {
          content: { ...USUAL_SOURCE, name: 'On a server' },
          address: { kind: 'imap', host: '127.0.0.1', port, secure: false, user: 'desk' },
          secret: 'kept-from-sight',
        }),
      );
      await survey(local, await newSurvey(local, [mail]));
      const rows = () =>
        ctx.store.all(
          z.object({ id: BigId, name: z.string(), unstamped: z.string().nullable() }),
          'SELECT i.id, i.name, l.unstamped FROM item i LEFT JOIN item_level l ON l.item_id = i.id WHERE i.source_id = ?',
          [mail],
        );
      const [before] = await rows();
      const run = await runToEnd(local, ANY_LEVEL_RUN, () =>
        proposeLevelRun(local, officer, { mode: 'set', keepDays: 30 }),
      );
      const after = await rows();
      expect(after).toEqual([{ id: before?.id, name: expect.any(String) as string, unstamped: null }]);
      expect(after[0]?.name).not.toBe(before?.name);
      const there = async () => {
        const lock = await writer.getMailboxLock('INBOX');
        await writer.noop();
        const all = await writer.fetchAll('1:*', { source: true, flags: true });
        lock.release();
        return all;
      };
      const [stamped, ...more] = await there();
      expect(more).toEqual([]);
      expect((await readFileLevel(stamped?.source as Buffer))?.id).toBe(internal);
      expect(stamped?.flags?.has('\\Seen')).toBe(true);
      await survey(local, await newSurvey(local, [mail]));
      expect((await rows()).map((r) => r.id)).toEqual([before?.id]);
      await runToEnd(local, ANY_LEVEL_UNDO, () => proposeUndo(local, officer.id, run.id));
      expect((await there())[0]?.source?.toString()).toBe(message);
    } finally {
      await writer.logout().catch(() => {});
      await server.stop();
    }
  });

  it('cannot name a level that was removed: drafts go alone, and what was in force stays on record', async () => {
    const remove = (kind: 'level' | 'rule', id: string) =>
      kind === 'level'
        ? removeDraft(ctx, LEVEL, officer.id, id, 1)
        : removeDraft(ctx, LEVEL_RULE, officer.id, id, 1);
    const id = await ctx.store.transaction((tx) => addNamedLevel(tx, ctx.now(), officer.id, 'By mistake'));
    const rule = await levelRule(ctx, officer.id, { level: id, where: 'everything' });
    await expect(remove('level', id)).rejects.toThrow(/sets it/);
    await remove('rule', rule);
    await remove('level', id);
    expect((await levelRanks(ctx.store)).has(id)).toBe(false);
    await expect(remove('level', strict)).rejects.toThrow('stays on record');
    await expect(remove('rule', everything)).rejects.toThrow('stays on record');
  });

  it('is looked at in every source there is, however many', async () => {
    const ids: number[] = [];
    const made: string[] = [];
    for (let i = 0; i < 45; i++) {
      const other = await testSource(ctx);
      made.push(String(other));
      ids.push(await testItem(ctx, other));
    }
    await touchBlocks(ctx.store, ids);
    const id = await proposeLevelRun(ctx, officer, { mode: 'rehearse', keepDays: 0 });
    await withWorkers(ctx, 1, () => runUntil(ctx, id, (r) => r.state === 'estimated'), [ANY_LEVEL_RUN]);
    const view = await viewLevelRun(ctx, id);
    expect(view.parts.filter((p) => made.includes(p.part) && p.looked.items === 1)).toHaveLength(45);
    expect(view.amount.items).toBeGreaterThanOrEqual(45);
  });

  it('lets copies go when their day has come; what they were cannot be put back then', async () => {
    await dropOldCopies({ ...ctx, now: () => new Date(Date.now() + 31 * 86_400_000) });
    const left = await ctx.store.one(z.object({ n: z.number() }), 'SELECT COUNT(*) AS n FROM kept_copy', []);
    expect(left?.n).toBe(0);
  });
});
