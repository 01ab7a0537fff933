import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { todayItems } from '../../../src/server/desk/today.ts';
import { custodianOfLink, holdLink } from '../../../src/server/retention/holds/hold-link.ts';
import { holdOutlook } from '../../../src/server/retention/holds/hold-outlook.ts';
import { HOLD } from '../../../src/server/retention/holds/holds.ts';
import {
  holdNotices,
  knowHold,
  tellCustodians,
} from '../../../src/server/retention/holds/tell-custodians.ts';
import { touchBlocks } from '../../../src/server/holdings/items/item-blocks.ts';
import { openText } from '../../../src/server/secret.ts';
import { heldFiles, hold, move, retentionTest, rule, TODAY, type RetentionTest } from './retention.ts';

let test: RetentionTest;
beforeAll(async () => {
  const made = await retentionTest('yare_holds');
  test = {
    ...made,
    ctx: { ...made.ctx, settings: { ...made.ctx.settings, SMTP_URL: 'smtp://127.0.0.1:1' } },
  };
}, 60_000);
afterAll(() => test.close());

/** Subjects of what was written about a hold, by whom it went to. */
async function letters(id: string): Promise<readonly string[]> {
  const rows = await test.ctx.store.all(
    z.object({ content: z.string() }),
    "SELECT content FROM outgoing_message WHERE object = 'hold' AND object_id = ? ORDER BY id",
    [id],
  );
  return rows.map(({ content }) => {
    const { to, subject, text } = JSON.parse(openText(test.ctx.settings.SECRET_KEY, content)) as Record<
      string,
      string
    >;
    return `${to}: ${subject}${/\/held\//.test(text ?? '') ? ', with a link' : ''}`;
  });
}

const [tove, osei] = ['tove@line.example', 'osei@line.example'];
const known = async (id: string) =>
  Object.fromEntries(
    (await holdNotices(test.ctx.store, id)).map((n) => [n.address, [n.times, n.known_at !== null]]),
  );
const unanswered = async () =>
  (await todayItems(test.ctx, test.officer)).filter((t) => t.kind === 'hold not known').map((t) => t.words);

describe('a hold', () => {
  it('is told to its custodians once, again as long as they say nothing, and once it is over', async () => {
    const { ctx } = test;
    const id = await hold(test, { name: 'Berth 4', custodians: [tove, osei], remindDays: 7 });
    await tellCustodians(ctx);
    expect(await letters(id)).toEqual([]);
    await move(test, HOLD, id, 'put in force');
    for (let i = 0; i < 3; i++) await tellCustodians(ctx);
    const first = [
      `${osei}: Please keep: Berth 4, with a link`,
      `${tove}: Please keep: Berth 4, with a link`,
    ];
    expect(await letters(id)).toEqual(first);
    await knowHold(ctx, id, tove);
    await knowHold(ctx, id, 'nobody@line.example');
    expect(await known(id)).toEqual({ [osei]: [1, false], [tove]: [1, true] });
    test.at('2026-12-05');
    await tellCustodians(ctx);
    expect(await letters(id)).toEqual(first);
    expect(await unanswered()).toEqual([]);
    test.at('2026-12-06');
    await tellCustodians(ctx);
    await tellCustodians(ctx);
    expect(await letters(id)).toEqual([...first, `${osei}: Once more: please keep Berth 4, with a link`]);
    expect(await unanswered()).toEqual(['1 custodian of “Berth 4” did not say that they know of it']);
    await knowHold(ctx, id, osei);
    expect(await unanswered()).toEqual([]);
    test.at('2027-06-01');
    await tellCustodians(ctx);
    expect(await letters(id)).toHaveLength(3);
    await move(test, HOLD, id, 'retire');
    await tellCustodians(ctx);
    await tellCustodians(ctx);
    expect((await letters(id)).slice(3)).toEqual([
      `${osei}: No longer held: Berth 4`,
      `${tove}: No longer held: Berth 4`,
    ]);
    test.at(TODAY);
  });

  it('opens for a custodian by a link of their own, and for nobody by another', () => {
    const token = holdLink(test.ctx, '7', 'Tove@Line.example').split('/').at(-1) ?? '';
    expect(custodianOfLink(test.ctx, token)).toEqual({ hold: '7', address: tove });
    const [hold7 = '', who = '', sign = ''] = token.split('.');
    for (const wrong of [
      '',
      `8.${who}.${sign}`,
      `${hold7}.${Buffer.from(osei).toString('base64url')}.${sign}`,
      `${hold7}.${who}.${sign.slice(0, -1)}A`,
      `${hold7}.${who}`,
    ])
      expect(custodianOfLink(test.ctx, wrong), wrong).toBeUndefined();
    expect(
      custodianOfLink({ settings: { ...test.ctx.settings, SECRET_KEY: 'cd'.repeat(32) } }, token),
    ).toBeUndefined();
  });

  it('does not pause, and wants a matter and days in order', async () => {
    const id = await hold(test, {}, 'put in force');
    await expect(move(test, HOLD, id, 'pause')).rejects.toThrow('A hold does not pause');
    await move(test, HOLD, id, 'retire');
    const bare = await hold(test, { matter: '' });
    await expect(move(test, HOLD, bare, 'put in force')).rejects.toMatchObject({
      fields: [{ field: 'matter' }],
    });
    const turned = await hold(test, { from: '2026-05-01', until: '2026-04-01' });
    await expect(move(test, HOLD, turned, 'put in force')).rejects.toMatchObject({
      fields: [{ field: 'until' }],
    });
  });

  it('tells what it would cover as its draft stands, what it keeps, and what others cover too; new items come in', async () => {
    const { ctx, source } = test;
    await heldFiles(test, [
      { path: 'h/old.txt', changed: '2020-01-01' },
      { path: 'h/new.txt', changed: '2026-11-01' },
      { path: 'h/in/old.txt', changed: '2020-01-01' },
    ]);
    await rule(
      test,
      { places: [`${source}/h`], keep: { count: 1, unit: 'years' }, then: 'ask' },
      'put in force',
    );
    const other = await hold(test, { name: 'Other', places: [`${source}/h/in`] }, 'put in force');
    const id = await hold(test, { places: [`${source}/h`] });
    expect(await holdOutlook(ctx, {}, id)).toMatchObject({
      covers: 3,
      keeps: 2,
      overlaps: [{ id: other, name: 'Other', covers: 1 }],
      notices: [],
    });
    await heldFiles(test, [{ path: 'h/later.txt', changed: '2021-01-01' }]);
    expect(await holdOutlook(ctx, {}, id)).toMatchObject({ covers: 4, keeps: 3 });
    await ctx.store.run(
      "UPDATE rule SET content = JSON_SET(content, '$.from', '2026-10-01') WHERE kind = 'hold' AND id = ?",
      [id],
    );
    expect(await holdOutlook(ctx, {}, id)).toMatchObject({ covers: 1, keeps: 0 });
    // Of which nobody knows when it was changed, nobody can say that it lies outside.
    await ctx.store.run("UPDATE item SET changed_at = NULL WHERE name = 'old.txt'");
    await touchBlocks(ctx.store, [1]);
    expect(await holdOutlook(ctx, {}, id)).toMatchObject({ covers: 3 });
  });
});
