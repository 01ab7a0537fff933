import mysql from 'mysql2/promise';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { z } from 'zod';
import { USUAL_SOURCE } from '../../../src/core/holdings/sources/source.ts';
import { clockId, newClock, type ClockContent } from '../../../src/core/retention/clock/clock-content.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { insertSource } from '../../../src/server/holdings/sources/sources.ts';
import { addClock, CLOCK, listClocks, removeClock } from '../../../src/server/retention/clocks/clocks.ts';
import { readClockColumns } from '../../../src/server/retention/clocks/read-columns.ts';
import { windClocks } from '../../../src/server/retention/clocks/wind-clocks.ts';
import { judgeItems } from '../../../src/server/retention/items/item-retention.ts';
import { retentionWeighing } from '../../../src/server/retention/weighing.ts';
import { editObject, readObject } from '../../../src/server/rules/plain-object.ts';
import { ownDatabase } from '../../own-database.ts';
import { unique } from '../context.ts';
import { heldFiles, retentionTest, rule, TODAY, type RetentionTest } from './retention.ts';

const DATABASE = 'yare_port';
const at = new URL(ownDatabase());
const place = { host: at.hostname, port: Number(at.port), user: at.username };
const secret = decodeURIComponent(at.password);

let test: RetentionTest;
let port: mysql.Connection;
let source: number;
let files: ReadonlyMap<string, number>;
beforeAll(async () => {
  test = await retentionTest('yare_column_clock');
  const { ctx } = test;
  Object.assign(ctx.settings, { ALLOWED_PRIVATE: `${place.host}:${place.port}` });
  port = await mysql.createConnection({ ...place, password: secret, multipleStatements: true });
  await port.query(`DROP DATABASE IF EXISTS ${DATABASE}; CREATE DATABASE ${DATABASE}; USE ${DATABASE};
    CREATE TABLE sailing (id INT PRIMARY KEY, reference VARCHAR(40), arrives DATETIME NULL);
    INSERT INTO sailing SELECT seq, CONCAT('SAIL-', seq), '2020-01-01 08:00:00' FROM seq_100000_to_107000;
    INSERT INTO sailing VALUES (1, 'HALE-2026-01', '2026-01-04 23:30:00'), (2, 'HALE-2026-02', NULL), (3, '7', '2026-02-01 00:00:00'),
      (4, 'hale 2026/03', '2026-03-01 00:00:00'), (5, 'HALE-2026-03', '2026-03-09 00:00:00');
    CREATE TABLE empty_one (reference VARCHAR(40), arrives DATE)`);
  source = await ctx.store.transaction((tx) =>
    insertSource(tx, ctx, null, {
      // A survey reads fewer rows than the table has; a clock reads all.
      content: { ...USUAL_SOURCE, name: 'Port', rowsPerTable: 100 },
      address: { kind: 'mariadb', ...place, database: DATABASE },
      secret,
    }),
  );
  files = await heldFiles(test, [
    { path: 'm/hale-2026-01.txt', changed: '2026-01-02' },
    { path: 'm/hale-2026-02.txt', changed: '2026-02-02' },
    { path: 'm/hale-2026-03.txt', changed: '2026-03-02' },
    { path: 'm/sail 106999 list.txt', changed: '2026-03-02' },
    { path: 'm/no 7 of them.txt', changed: '2026-03-02' },
  ]);
}, 60_000);
afterAll(async () => {
  await port.query(`DROP DATABASE ${DATABASE}`);
  await port.end();
  await test.close();
});

const clocks = () => listClocks(test.ctx.store);
const add = (more: Partial<ClockContent>) =>
  test.ctx.store.transaction((tx) =>
    addClock(tx, test.ctx.now(), test.officer.id, {
      ...newClock(unique('arrival '), 'column'),
      ...{ source: String(source), table: 'sailing', markColumn: 'reference', dayColumn: 'arrives' },
      ...more,
    }),
  );
const edit = async (id: number, more: Partial<ClockContent>) => {
  const { content, revision } = await readObject(test.ctx.store, CLOCK, id);
  await test.ctx.store.transaction((tx) =>
    editObject(tx, test.ctx.now(), CLOCK, test.officer.id, id, {
      revision,
      base: content,
      content: { ...content, ...more },
    }),
  );
};
const of = async (id: number) => (await clocks()).find((c) => c.id === id);
const told = async (id: number) =>
  (await todayItems(test.ctx, test.officer)).filter(
    (t) => t.kind === 'clock not read' && t.key === String(id),
  );

it('is told by a table, all of it, and terms count from it', async () => {
  const { ctx } = test;
  const id = await add({});
  await readClockColumns(ctx);
  expect(await of(id)).toMatchObject({
    days: 7003,
    problem: '',
    readWords:
      '7003 days · 2 rows without a day, or with fewer than 4 letters or digits to look for · in 1 row what names hold stood with another day before: the later one counts',
  });
  await windClocks(ctx);
  expect(await of(id)).toMatchObject({ known: 3, unknown: 2 });
  const by = await rule(test, {
    places: [`${test.source}/m`],
    ...{ keep: { count: 90, unit: 'days' }, after: clockId(id), unknown: 'never begins' },
  });
  const judged = await judgeItems(ctx.store, await retentionWeighing(ctx, { rule: by }), [...files.values()]);
  expect([...files].map(([path, item]) => [path.slice(2), judged.get(item)?.verdict.ends])).toEqual([
    ['hale-2026-01.txt', '2026-04-04'],
    ['hale-2026-02.txt', null],
    ['hale-2026-03.txt', '2026-06-07'],
    ['sail 106999 list.txt', '2020-03-31'],
    ['no 7 of them.txt', null],
  ]);
});

it('is read again a day later, and looks at items again only where a day changed', async () => {
  const { ctx } = test;
  const id = await add({});
  const revision = () =>
    ctx.store.one(z.object({ revision: z.number() }), 'SELECT revision FROM retention_clock WHERE id = ?', [
      id,
    ]);
  await readClockColumns(ctx);
  const first = await revision();
  await port.query("UPDATE sailing SET arrives = '2026-02-05' WHERE id = 2");
  test.at('2026-11-29');
  await readClockColumns(ctx);
  expect(await of(id)).toMatchObject({ days: 7003 });
  test.at('2026-11-30');
  await readClockColumns(ctx);
  expect(await of(id)).toMatchObject({ days: 7004 });
  const second = await revision();
  expect(second).not.toEqual(first);
  test.at('2026-12-01');
  await readClockColumns(ctx);
  expect(await revision()).toEqual(second);
  test.at(TODAY);
});

it.each([
  [{ table: 'sailings' }, 'There is no table “sailings” among empty_one, sailing.'],
  [{ table: 'empty_one' }, 'The table “empty_one” has no rows.'],
  [{ dayColumn: 'arrival' }, 'There is no column “arrival”. There are: id, reference, arrives.'],
  [{ source: '999999' }, 'Its database is no source any more.'],
])('tells why it cannot be read: %j', async (wrong, problem) => {
  const { ctx, officer } = test;
  const id = await add({});
  await readClockColumns(ctx);
  await edit(id, wrong);
  // What another place told counts no longer.
  expect(await of(id)).toMatchObject({ days: 0, readAt: null });
  await readClockColumns(ctx);
  expect(await of(id)).toMatchObject({ problem });
  expect(await told(id)).toMatchObject([{ detail: expect.stringContaining(problem) as string }]);
  await edit(id, { source: String(source), table: 'sailing', dayColumn: 'arrives' });
  expect(await told(id)).toEqual([]);
  await readClockColumns(ctx);
  expect(await of(id)).toMatchObject({ problem: '' });
  await ctx.store.transaction((tx) => removeClock(tx, ctx.now(), officer.id, id));
});

it('keeps the days that it had where the database is away, and is on Today until it is read', async () => {
  const { ctx } = test;
  const id = await add({});
  await readClockColumns(ctx);
  const { days } = (await of(id)) ?? {};
  await port.query('RENAME TABLE sailing TO moored');
  test.at('2026-11-30');
  await readClockColumns(ctx);
  expect(await of(id)).toMatchObject({ days, problem: expect.stringContaining('no table') as string });
  expect(await told(id)).toHaveLength(1);
  await port.query('RENAME TABLE moored TO sailing');
  test.at('2026-12-01');
  await readClockColumns(ctx);
  expect(await told(id)).toEqual([]);
  test.at(TODAY);
});

it('asks for what it lacks, without a word on Today', async () => {
  const id = await add({ table: '' });
  await readClockColumns(test.ctx);
  expect(await of(id)).toMatchObject({ problem: 'Name its database, its table and the two columns.' });
  expect(await told(id)).toEqual([]);
});
