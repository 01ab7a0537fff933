import { afterAll, beforeAll, expect, it } from 'vitest';
import { HoldFile, judge, RetainedItem, RetentionFile } from '../../../src/core/retention/retention-file.ts';
import { NEW_ACTIVITY } from '../../../src/core/holdings/records/activity.ts';
import { KEPT } from '../../../src/core/retention/rules/exception.ts';
import { SCHEDULE_FIELDS } from '../../../src/core/retention/schedule/schedule-table.ts';
import { addActivity } from '../../../src/server/holdings/records/activities.ts';
import { itemRows } from '../../../src/server/holdings/items/item-rows.ts';
import { makeException } from '../../../src/server/retention/exceptions/exceptions.ts';
import { judgeItems } from '../../../src/server/retention/items/item-retention.ts';
import {
  scheduleCsv,
  scheduleRecords,
  scheduleJson,
  scheduleXlsx,
} from '../../../src/server/retention/schedule/export-schedule.ts';
import {
  importSchedule,
  markedSchedule,
  viewScheduleTable,
} from '../../../src/server/retention/schedule/import-schedule.ts';
import { viewSchedule } from '../../../src/server/retention/schedule/schedule.ts';
import { listRetentionRules } from '../../../src/server/retention/rules/retention-rules.ts';
import { retentionWeighing } from '../../../src/server/retention/weighing.ts';
import { bound, heldFiles, hold, retentionTest, rule, TODAY, type RetentionTest } from './retention.ts';
import { sendFile } from '../sent-file.ts';

let test: RetentionTest;
let items: ReadonlyMap<string, number>;
beforeAll(async () => {
  test = await retentionTest('yare_schedule');
  items = await heldFiles(
    test,
    Array.from({ length: 40 }, (_, i) => ({
      path: `${['a', 'a/b', 'c', 'd/e'][i % 4] ?? ''}/${i}.txt`,
      changed: `20${14 + (i % 12)}-0${1 + (i % 9)}-1${i % 9}`,
      people: i % 3,
      ...(i % 5 === 0 ? { document: 'manifest' } : {}),
    })),
  );
  const place = (path: string) => `${test.source}/${path}`;
  const years = (count: number) => ({ count, unit: 'years' as const });
  await rule(test, { name: 'Of a', places: [place('a')], keep: years(3), then: 'ask' }, 'put in force');
  await rule(
    test,
    { name: 'Of b', places: ['*/*/b'], keep: years(6), yearEnd: true, then: 'delete' },
    'put in force',
  );
  await rule(
    test,
    { name: 'People', where: 'people at least 2', keep: years(2), then: 'ask', because: '=1+1; because' },
    'put in force',
  );
  await rule(test, { name: 'Draft', keep: years(1) });
  await bound(test, { name: 'Books', places: [place('c'), place('a')], keep: years(5) }, 'put in force');
  await bound(
    test,
    { name: 'Pictures', places: [place('c')], keep: years(1), kind: 'maximum' },
    'put in force',
  );
  await hold(
    test,
    { name: 'Matter', places: [place('a/b')], from: '2016-01-01', until: '2019-12-31' },
    'put in force',
  );
}, 60_000);
afterAll(() => test.close());

const sent = (name: string, bytes: Uint8Array) => sendFile(test.ctx, test.officer.id, name, bytes);
const headings = Object.fromEntries(
  Object.entries(SCHEDULE_FIELDS).map(([field, { words }]) => [field, words]),
);

it('what is in force gives the same verdicts from the command line’s files as at the desk', async () => {
  const { rules, holds } = JSON.parse(JSON.stringify(await scheduleJson(test.ctx))) as {
    rules: unknown;
    holds: unknown;
  };
  const [file, held] = [RetentionFile.parse(rules), HoldFile.parse(holds)];
  const ids = [...items.values()];
  const judged = await judgeItems(test.ctx.store, await retentionWeighing(test.ctx, 'in force'), ids);
  const states = new Set<string>();
  for (const [id, row] of await itemRows(test.ctx.store, ids)) {
    const item = RetainedItem.parse({
      ...{ id: String(id), source: row.source, place: row.place, name: row.name, created: row.created },
      ...{ changed: row.changed, owner: row.owner, document: row.document, people: row.people },
      data: Object.fromEntries(row.findings.map((f) => [f.detector, f.matches])),
    });
    const { by, ends, state, movedBy, holds: of, conflict } = judge(item, file, held, TODAY);
    const verdict = judged.get(id)?.verdict;
    expect({ by, ends, state, movedBy, holds: of, conflict }).toEqual({
      by: verdict?.by ?? null,
      ends: verdict?.ends,
      state: verdict?.state,
      movedBy: verdict?.movedBy ?? null,
      holds: verdict?.holds,
      conflict: verdict?.conflict ?? null,
    });
    states.add(`${state}${movedBy === null ? '' : ' moved'}`);
  }
  expect([...states].sort()).toEqual(['due', 'due moved', 'held moved', 'kept', 'kept moved']);
});

it('is taken back from its own table as nothing new, and from another as drafts', async () => {
  const { ctx, officer } = test;
  const csv = await scheduleCsv(ctx);
  // A reason that a spreadsheet would reckon with is none in the table.
  expect(csv).toContain("'=1+1; because");
  for (const [name, bytes] of [
    ['s.csv', Buffer.from(csv)],
    ['s.xlsx', await scheduleXlsx(ctx)],
    ['s.json', Buffer.from(await scheduleRecords(ctx))],
  ] as const) {
    const upload = await sent(name, bytes);
    expect((await viewScheduleTable(ctx, officer.id, upload)).matched).toEqual(headings);
    expect(await importSchedule(ctx, officer.id, { upload, headings, rehearse: false })).toEqual({
      added: [],
      changed: [],
      same: 4,
    });
  }
  const table = 'Rule,Keep for,Then\nOf a,4 years,delete\nNew one,for good,\n';
  const upload = await sent('other.csv', Buffer.from(table));
  const few = { name: 'Rule', keep: 'Keep for', then: 'Then' };
  const outcome = {
    added: ['New one'],
    changed: [
      {
        name: 'Of a',
        words: ['How long: 3 → 4', 'What follows: ask the owner, then delete → delete'],
      },
    ],
    same: 0,
  };
  expect(await importSchedule(ctx, officer.id, { upload, headings: few, rehearse: true })).toEqual(outcome);
  expect((await listRetentionRules(ctx.store)).map((r) => r.name)).not.toContain('New one');
  expect(await importSchedule(ctx, officer.id, { upload, headings: few, rehearse: false })).toEqual(outcome);
  const rules = await listRetentionRules(ctx.store);
  expect(rules.find((r) => r.name === 'New one')).toMatchObject({
    stage: { state: 'draft' },
    term: 'for good',
  });
  expect(rules.find((r) => r.name === 'Of a')).toMatchObject({
    stage: { state: 'in force', version: 1 },
    term: '4 years after the last change',
  });
});

it('is taken whole or not at all, with every cell that cannot be taken told and marked', async () => {
  const { ctx, officer } = test;
  const table = 'Rule,Keep for,Where\nGood,4 years,\nBad,some time,Nowhere\n';
  const upload = await sent('bad.csv', Buffer.from(table));
  const few = { name: 'Rule', keep: 'Keep for', places: 'Where' };
  await expect(
    importSchedule(ctx, officer.id, { upload, headings: few, rehearse: false }),
  ).rejects.toMatchObject({
    fields: [
      { field: expect.stringMatching(/row 3/) as string },
      { field: expect.stringMatching(/row 3/) as string },
    ],
  });
  expect((await listRetentionRules(ctx.store)).map((r) => r.name)).not.toContain('Good');
  expect((await markedSchedule(ctx, officer.id, upload, few)).length).toBeGreaterThan(3000);
});

it('is taken whole or not at all, where the store fails in the middle', async () => {
  const { ctx, officer } = test;
  const table = 'Rule,Keep for\nAnother,1 year\nOf a,9 years\nOf b,9 years\n';
  const few = { name: 'Rule', keep: 'Keep for' };
  const upload = await sent('middle.csv', Buffer.from(table));
  const terms = async () => (await listRetentionRules(ctx.store)).map((r) => `${r.name}: ${r.term}`);
  const before = await terms();
  await ctx.store.run(
    "CREATE TRIGGER fails BEFORE UPDATE ON rule FOR EACH ROW IF NEW.name = 'Of b' THEN SIGNAL SQLSTATE '45000'; END IF",
  );
  const take = () => importSchedule(ctx, officer.id, { upload, headings: few, rehearse: false });
  await expect(take()).rejects.toThrow();
  expect(await terms()).toEqual(before);
  await ctx.store.run('DROP TRIGGER fails');
  // What was sent is there still.
  expect(await take()).toMatchObject({ added: ['Another'], changed: [{ name: 'Of a' }, { name: 'Of b' }] });
  expect(await terms()).toContainEqual(expect.stringMatching(/^Of b: 9 years/));
});

it('is held against what is held and against the records of processing', async () => {
  const { ctx, officer, source } = test;
  const system = await ctx.store.run(
    "INSERT INTO data_system (name, content, created_at) VALUES ('Port', '{}', NOW())",
  );
  await ctx.store.run('UPDATE source SET system_id = ? WHERE id = ?', [system.id, source]);
  const before = await viewSchedule(ctx, {});
  const bare = before.sources.reduce((n, s) => n + s.items - s.ruled - s.byLaw, 0);
  expect(before.sources).toMatchObject([{ id: String(source), items: 40 }]);
  expect(bare).toBe(before.bare.reduce((n, b) => n + b.items, 0));
  expect(before.bare.map((b) => b.place.split(' / ').at(-1))).toEqual(['d']);
  expect(before.unnamedRules.map((r) => r.name).sort()).toEqual(['Of a', 'Of b', 'People']);
  const record = (systems: readonly number[]) =>
    ctx.store.transaction((tx) =>
      addActivity(tx, ctx.now(), officer.id, {
        ...NEW_ACTIVITY,
        name: `Of ${systems.join()}`,
        systems: systems.map(String),
        retention: 'two years',
      }),
    );
  await record([system.id]);
  const after = await viewSchedule(ctx, {});
  expect([after.unnamedRules, after.unruledActivities]).toEqual([[], []]);
  // What somebody set on the items themselves counts as said.
  await makeException(
    ctx,
    officer,
    [...items].filter(([p]) => p.startsWith('d/')).map(([, id]) => id),
    { content: KEPT, reason: 'x', until: null },
  );
  expect((await viewSchedule(ctx, {})).bare).toEqual([]);
});
