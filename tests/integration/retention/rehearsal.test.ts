import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { clockId, newClock } from '../../../src/core/retention/clock/clock-content.ts';
import { plainMarks } from '../../../src/core/retention/clock/name-days.ts';
import { KEPT } from '../../../src/core/retention/rules/exception.ts';
import { groupMark, unitMark } from '../../../src/core/accounts/staff/audience.ts';
import { parseLens } from '../../../src/core/lens/lens-text.ts';
import { writeStaff } from '../../../src/server/accounts/staff/staff.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { touchBlocks } from '../../../src/server/holdings/items/item-blocks.ts';
import {
  addClock,
  CLOCK,
  listClocks,
  removeClock,
  writeClockDays,
} from '../../../src/server/retention/clocks/clocks.ts';
import { windClocks } from '../../../src/server/retention/clocks/wind-clocks.ts';
import { endException, makeException } from '../../../src/server/retention/exceptions/exceptions.ts';
import { findRetention } from '../../../src/server/retention/find-retention.ts';
import { HOLD, listHolds } from '../../../src/server/retention/holds/holds.ts';
import { judgeItems, retentionOfItem } from '../../../src/server/retention/items/item-retention.ts';
import { countDays } from '../../../src/server/retention/rehearsal/count-days.ts';
import {
  firstToGo,
  retentionOutlook,
  retentionTotals,
} from '../../../src/server/retention/rehearsal/outlook.ts';
import { REASONED_RULE } from '../../../src/server/retention/rehearsal/unreasoned.ts';
import { listRetentionRules, RETENTION_RULE } from '../../../src/server/retention/rules/retention-rules.ts';
import { retentionWeighing } from '../../../src/server/retention/weighing.ts';
import { editObject } from '../../../src/server/rules/plain-object.ts';
import { refuseForce } from '../../../src/server/rules/rule-moves.ts';
import { bound, heldFiles, hold, move, retentionTest, rule, TODAY, type RetentionTest } from './retention.ts';

let test: RetentionTest;
let items: ReadonlyMap<string, number>;
let whole = '';
beforeAll(async () => {
  test = await retentionTest('yare_rehearsal');
  const many = Array.from({ length: 30 }, (_, i) => ({
    path: `Manifests/2026/manifest-2026-${String(1 + (i % 9)).padStart(2, '0')}-02-Hale-${i}.txt`,
    changed: `2026-0${1 + (i % 9)}-03`,
    document: 'manifest',
    people: i % 2 === 0 ? 4 : 0,
    text: `Departure 01.01.2020\nArrival: 2026-0${1 + (i % 9)}-02`,
  }));
  items = await heldFiles(test, [
    ...many,
    { path: 'Crew/a.txt', changed: '2024-02-29', owner: 'tove' },
    { path: 'Crew/Old/b.txt', changed: '2020-01-31', owner: 'osei' },
    { path: 'Crew/Old/c.txt', changed: '2026-11-28' },
  ]);
  await test.ctx.store.transaction((tx) =>
    writeStaff(tx, test.ctx.now(), null, {
      members: [
        { address: 'tove@line.example', name: 'Tove', unit: 'Port', groups: ['Stewards'], left: null },
        { address: 'osei@line.example', name: 'Osei', unit: 'Crew', groups: [], left: null },
      ],
      groups: [{ name: 'Stewards', within: [] }],
    }),
  );
  whole = await rule(
    test,
    { name: 'Everything', keep: { count: 10, unit: 'years' }, then: 'tell' },
    'put in force',
  );
}, 60_000);
afterAll(() => test.close());

const place = (path: string) => `${test.source}${path === '' ? '' : '/'}${path}`;
const outlook = (id: string) => retentionOutlook(test.ctx, {}, id);
const item = (path: string) => items.get(path) ?? 0;

describe('a rehearsal', () => {
  it('tells what a draft would come to, the same that each item is told by itself', async () => {
    const id = await rule(test, {
      places: [place('Manifests')],
      keep: { count: 6, unit: 'months' },
      then: 'ask',
    });
    const held = await hold(
      test,
      { places: [place('Manifests')], from: '2026-03-01', until: '2026-03-31' },
      'put in force',
    );
    const found = await outlook(id);
    const weighing = await retentionWeighing(test.ctx, { rule: id });
    const judged = [...(await judgeItems(test.ctx.store, weighing, [...items.values()])).values()];
    const mine = judged.filter((j) => j.verdict.by === id);
    const count = (state: string) =>
      mine.filter((j) => j.verdict.state === state && (state !== 'held' || (j.verdict.ends ?? '') < TODAY))
        .length;
    expect(found.totals).toMatchObject({
      ...{ about: 30, decides: mine.length, due: count('due'), held: count('held'), running: count('kept') },
      moved: 0,
    });
    // By hand: January, February, April and May, while March is held.
    expect(found.totals.due).toBe(14);
    expect(found.heldBy).toMatchObject([{ id: held, count: count('held') }]);
    expect(found.beatenBy).toEqual([]);
    expect(found.never).toBeNull();
    expect(found.months.reduce((n, m) => n + m.due, 0)).toBe(14);
    expect(found.months.map((m) => m.month)).toEqual([...found.months.map((m) => m.month)].toSorted());
    // Nothing of it is in force.
    expect((await retentionTotals(test.ctx, {})).inForce.rules.map((r) => r.id)).toEqual([whole]);
    await move(test, HOLD, held, 'retire');
  });

  it('tells the first to go, the longest overdue first, page by page', async () => {
    const id = await rule(test, { places: [place('Manifests')], keep: { count: 1, unit: 'months' } });
    const all: number[] = [];
    for (let after: string | undefined; ;) {
      const page = await firstToGo(test.ctx, {}, id, after, 7);
      all.push(...page.rows.map((r) => r.daysOver));
      expect(page.rows[0]).toMatchObject({
        place: expect.stringMatching(/Manifests \/ 2026$/) as string,
        because: 'more specific than “Everything”',
      });
      if (page.next === null) break;
      after = page.next;
    }
    expect(all).toHaveLength(30);
    expect(all).toEqual(all.toSorted((a, b) => b - a));
    await expect(firstToGo(test.ctx, {}, id, 'none of ours', 7)).rejects.toMatchObject({
      fields: [{ field: 'after' }],
    });
  });

  it('tells what the law moves, and asks for a reason before that is in force', async () => {
    const law = await bound(
      test,
      {
        places: [place('Manifests')],
        keep: { count: 1, unit: 'years' },
        kind: 'minimum',
        name: 'Books',
        article: 'Books Act, § 1',
      },
      'put in force',
    );
    const id = await rule(test, { places: [place('Manifests')], keep: { count: 6, unit: 'months' } });
    expect((await outlook(id)).movedBy).toMatchObject([
      {
        id: law,
        name: 'Books',
        article: 'Books Act, § 1',
        count: 30,
        longer: 30,
        examples: expect.arrayContaining([]) as unknown,
      },
    ]);
    await expect(refuseForce(test.ctx, REASONED_RULE, id)).rejects.toMatchObject({
      fields: [
        {
          field: 'beyond',
          message: expect.stringMatching(/^Books Act, § 1 moves 30 of its items/) as string,
        },
      ],
    });
    await test.ctx.store.run(
      "UPDATE rule SET content = JSON_SET(content, '$.beyond', 'until the new form is out') WHERE kind = 'retention rule' AND id = ?",
      [id],
    );
    await refuseForce(test.ctx, REASONED_RULE, id);
    // The law stands all the same.
    const weighing = await retentionWeighing(test.ctx, { rule: id });
    const [one] = [
      ...(
        await judgeItems(test.ctx.store, weighing, [item('Manifests/2026/manifest-2026-01-02-Hale-0.txt')])
      ).values(),
    ];
    expect(one?.verdict).toMatchObject({ state: 'kept', ends: '2027-01-03', movedBy: law });
    await test.ctx.store.run("DELETE FROM rule WHERE kind = 'bound'");
  });

  it('tells rules that are as specific and say another day, and that order settles', async () => {
    const first = await rule(
      test,
      { places: [place('Crew')], keep: { count: 1, unit: 'years' } },
      'put in force',
    );
    const second = await rule(test, { places: [place('Crew')], keep: { count: 2, unit: 'years' } });
    expect((await outlook(second)).rivals).toMatchObject([{ id: first, count: 3 }]);
    // Without personal data the one that ends last decides.
    expect((await outlook(second)).totals.decides).toBe(3);
    await test.ctx.store.run(
      "UPDATE rule SET content = JSON_SET(content, '$.order', 1) WHERE kind = 'retention rule' AND id = ?",
      [first],
    );
    await move(test, RETENTION_RULE, first, 'put in force');
    const ordered = await outlook(second);
    expect(ordered.rivals).toEqual([]);
    expect(ordered).toMatchObject({ totals: { decides: 0, about: 3 }, beatenBy: [{ id: first, count: 3 }] });
    expect(ordered.never).toMatch(/^R .* decides wherever it is about something$/);
    await move(test, RETENTION_RULE, first, 'retire');
  });

  it('follows places that match as they come, and tells a rule that is about nothing', async () => {
    const id = await rule(test, { places: [place('*/Old')], keep: { count: 1, unit: 'years' } });
    expect((await outlook(id)).totals).toMatchObject({ about: 2, due: 1 });
    const made = await heldFiles(test, [{ path: 'New folder/Old/x.txt', changed: '2021-01-01' }]);
    expect((await outlook(id)).totals).toMatchObject({ about: 3, due: 2 });
    await test.ctx.store.run('DELETE FROM item WHERE id IN (?)', [[...made.values()]]);
    await touchBlocks(test.ctx.store, [...made.values()]);
    const none = await rule(test, { places: [place('Nowhere')], keep: { count: 1, unit: 'years' } });
    expect((await outlook(none)).never).toBe('nothing that is held is in it');
  });

  it('is about what people and units own, and never what somebody else does', async () => {
    for (const [scope, about] of [
      [{ of: [unitMark('Port')] }, 1],
      [{ of: [groupMark('Stewards')] }, 1],
      [{ of: ['osei@line.example'] }, 1],
      [{ of: [unitMark('Deck')] }, 0],
      [{ notOf: [unitMark('Port')], places: ['*/Crew'] }, 2],
    ] as const) {
      const id = await rule(test, {
        ...scope,
        of: 'of' in scope ? [...scope.of] : [],
        notOf: 'notOf' in scope ? [...scope.notOf] : [],
        places: 'places' in scope ? [...scope.places] : [],
        keep: { count: 1, unit: 'days' },
      });
      expect((await outlook(id)).totals.about, JSON.stringify(scope)).toBe(about);
    }
  });

  it('that names what is gone is about nothing, while a hold that does holds all in its places', async () => {
    const gone = 'level one of "gone-level"';
    const id = await rule(test, { where: gone, keep: { count: 1, unit: 'days' } });
    expect((await outlook(id)).totals.about).toBe(0);
    await expect(move(test, RETENTION_RULE, id, 'rehearse')).rejects.toMatchObject({
      fields: [{ field: 'lens' }],
    });
    const held = await hold(test, { places: [place('Crew')] }, 'put in force');
    await test.ctx.store.run(
      "UPDATE rule_version SET content = JSON_SET(content, '$.lens', JSON_QUERY(?, '$')) WHERE kind = 'hold' AND id = ?",
      [JSON.stringify(parseLens(gone)), held],
    );
    expect(await retentionOfItem(test.ctx, item('Crew/a.txt'))).toMatchObject({ state: 'held' });
    await move(test, HOLD, held, 'retire');
  });

  it('has nothing to tell of a draft without a clock', async () => {
    const id = await rule(test, {});
    await expect(outlook(id)).rejects.toMatchObject({ fields: [{ field: 'keep' }] });
    expect((await listRetentionRules(test.ctx.store)).find((r) => r.id === id)?.term).toBe(
      'no clock chosen yet',
    );
  });
});

describe('an exception', () => {
  it('beats rules on its items, up to its last day, and can be taken back', async () => {
    const id = await rule(
      test,
      { places: [place('Crew/Old')], keep: { count: 1, unit: 'years' }, then: 'ask' },
      'put in force',
    );
    const of = () => retentionOfItem(test.ctx, item('Crew/Old/b.txt'));
    expect(await of()).toMatchObject({ state: 'due', goes: '2021-02-01', by: { id } });
    const { id: longer } = await makeException(test.ctx, test.officer, [item('Crew/Old/b.txt'), 999_999], {
      content: KEPT,
      reason: 'a complaint',
      until: '2026-12-24',
    });
    expect(await of()).toMatchObject({ state: 'kept', goes: null, by: { isRule: false } });
    test.at('2026-12-25');
    expect((await of()).state).toBe('due');
    test.at(TODAY);
    await endException(test.ctx, test.officer, longer);
    await expect(endException(test.ctx, test.officer, longer)).rejects.toMatchObject({ status: 404 });
    expect((await of()).state).toBe('due');
    const shorter = { ...KEPT, keep: { count: 1, unit: 'days' as const }, then: 'delete' as const };
    await makeException(test.ctx, test.officer, [item('Crew/Old/c.txt')], {
      content: shorter,
      reason: 'a mistake',
      until: null,
    });
    test.at('2026-11-30');
    expect(await retentionOfItem(test.ctx, item('Crew/Old/c.txt'))).toMatchObject({
      state: 'due',
      then: 'delete',
    });
    test.at(TODAY);
    await move(test, RETENTION_RULE, id, 'retire');
  });
});

describe('a clock', () => {
  const known = async (id: number) => (await listClocks(test.ctx.store)).find((c) => c.id === id);

  it('is told by names, by a list and by what stands in items; and looks again where something changed', async () => {
    const { ctx, officer } = test;
    const add = (
      content: Partial<ReturnType<typeof newClock>> & { name: string; way: 'name' | 'list' | 'found' },
    ) =>
      ctx.store.transaction((tx) =>
        addClock(tx, ctx.now(), officer.id, { ...newClock(content.name, content.way), ...content }),
      );
    const byName = await add({ name: 'its name', way: 'name' });
    const byList = await add({ name: 'its sailing', way: 'list' });
    const found = await add({ name: 'its arrival', way: 'found', words: ['Arrival'] });
    await ctx.store.transaction((tx) =>
      writeClockDays(tx, byList, new Map([[plainMarks('2026-01-02 Hale').trim(), '2026-01-04']])),
    );
    await windClocks(ctx);
    expect(await known(byName)).toMatchObject({ known: 30, unknown: 3 });
    // Every ninth.
    expect(await known(byList)).toMatchObject({ known: 4, unknown: 29, days: 1 });
    expect(await known(found)).toMatchObject({ known: 30 });
    const day = async (clock: number, path: string) =>
      (
        await ctx.store.one(
          z.object({ day: z.string().nullable() }),
          'SELECT day FROM item_clock WHERE clock_id = ? AND item_id = ?',
          [clock, item(path)],
        )
      )?.day;
    const one = 'Manifests/2026/manifest-2026-01-02-Hale-0.txt';
    expect(await Promise.all([byName, byList, found].map((c) => day(c, one)))).toEqual([
      '2026-01-02',
      '2026-01-04',
      '2026-01-02',
    ]);
    const id = await rule(test, {
      places: [place('Manifests')],
      ...{ keep: { count: 90, unit: 'days' }, after: clockId(byList), unknown: 'changed' },
    });
    const weighing = await retentionWeighing(ctx, { rule: id });
    const judged = await judgeItems(ctx.store, weighing, [
      item(one),
      item('Manifests/2026/manifest-2026-02-02-Hale-1.txt'),
    ]);
    expect([...judged.values()].map((j) => j.verdict.ends)).toEqual(['2026-04-04', '2026-05-04']);
    expect((await outlook(id)).totals.due).toBe(30 - 3);
    // What it says itself changed: all is looked at again.
    const content = await CLOCK.read(ctx.store, found);
    await ctx.store.transaction((tx) =>
      editObject(tx, ctx.now(), CLOCK, officer.id, found, {
        revision: 0,
        base: content,
        content: { ...content, words: ['Departure'] },
      }),
    );
    await windClocks(ctx);
    expect(await day(found, one)).toBe('2020-01-01');
    await expect(
      ctx.store.transaction((tx) => removeClock(tx, ctx.now(), officer.id, byList)),
    ).rejects.toMatchObject({ status: 409 });
    await ctx.store.transaction((tx) => removeClock(tx, ctx.now(), officer.id, byName));
    expect(await known(byName)).toBeUndefined();
  });
});

describe('each day', () => {
  it('is counted once, and what nothing said would be due is a surprise', async () => {
    const { ctx } = test;
    const id = await rule(
      test,
      { name: 'Counted', places: [place('Manifests')], keep: { count: 10, unit: 'months' } },
      'rehearse',
    );
    const held = await hold(test, { places: [place('Crew')] }, 'put in force');
    await countDays(ctx);
    await countDays(ctx);
    const counted = await ctx.store.all(
      z.object({ day: z.string() }),
      'SELECT day FROM retention_day WHERE rule_id = ?',
      [id],
    );
    expect(counted).toEqual([{ day: TODAY }]);
    expect((await listHolds(ctx.store)).find((h) => h.id === held)).toMatchObject({ covers: 3 });
    expect((await outlook(id)).surprises).toBeNull();
    // Whatever becomes due because a day went by is none.
    test.at('2026-12-04');
    await ctx.store.run("UPDATE retention_day SET day = '2026-12-03', due_next = due WHERE rule_id = ?", [
      id,
    ]);
    expect((await outlook(id)).surprises).toMatchObject({ since: '2026-12-03', items: 4 });
    test.at('2026-11-30');
    await ctx.store.run("UPDATE retention_day SET day = '2026-11-29' WHERE rule_id = ?", [id]);
    expect((await outlook(id)).surprises).toMatchObject({ items: 0 });
    await ctx.store.run("UPDATE item SET changed_at = '2020-01-01' WHERE id = ?", [
      item('Manifests/2026/manifest-2026-09-02-Hale-8.txt'),
    ]);
    await touchBlocks(ctx.store, [item('Manifests/2026/manifest-2026-09-02-Hale-8.txt')]);
    const after = await outlook(id);
    expect(after.surprises).toMatchObject({
      items: 1,
      examples: [{ name: 'manifest-2026-09-02-Hale-8.txt' }],
    });
    await countDays(ctx);
    const told = (await todayItems(ctx, test.officer)).filter((t) => t.kind === 'surprise');
    expect(told.map((t) => t.words)).toEqual(['“Counted” has 1 item due today that yesterday did not tell']);
    test.at(TODAY);
  });

  it('rules and holds are found by their names', async () => {
    const found = await findRetention(test.ctx, 'everyth');
    expect(found).toMatchObject([
      { words: 'Everything', detail: 'retention rule', link: `/retention/rules/${whole}` },
    ]);
  });
});
