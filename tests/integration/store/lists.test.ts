import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { z } from 'zod';
import type { ListDefinition } from '../../../src/core/lists/list.ts';
import {
  listCount,
  listCsv,
  listFacet,
  listPage,
  type ListSource,
} from '../../../src/server/lists/list-source.ts';
import { everyRow } from '../../../src/server/store/page.ts';
import { Where } from '../../../src/server/store/where.ts';
import { testContext } from '../context.ts';
import { runs } from '../../property-runs.ts';

const ctx = testContext();

const LIST: ListDefinition = {
  name: 'ships',
  columns: {
    name: { words: 'Name', sorts: true },
    metres: { words: 'Length', sorts: true },
    port: { words: 'Port' },
  },
  filters: {
    port: { kind: 'value', words: 'Port', most: 20 },
    long: { kind: 'choice', words: 'Long', options: { yes: 'Long ones' } },
  },
  search: 'name',
  order: { sort: 'id', order: 'up' },
};
const Row = z.object({ id: z.number(), name: z.string(), metres: z.number(), port: z.string() });
type Row = z.infer<typeof Row>;
const SOURCE: ListSource<Row> = {
  list: LIST,
  select: 'id, name, metres, port',
  from: 'list_test',
  row: Row,
  id: 'id',
  sorts: { id: 'id', name: 'name', metres: 'metres' },
  search: ['name'],
  filters: {
    port: (where, port) => where.and('port = ?', port),
    long: (where) => where.and('metres >= 100'),
  },
};
const ships: Row[] = Array.from({ length: 60 }, (_, i) => ({
  id: i + 1,
  name: ['MS Hale', 'MS Corrie', '100% Øster_vig', 'ms hale II'][i % 4] ?? '',
  metres: 80 + ((i * 37) % 50),
  port: ['Halmsund', 'Marrow Quay', 'Østervig'][i % 3] ?? '',
}));

beforeAll(async () => {
  await ctx.store.run('DROP TABLE IF EXISTS list_test');
  await ctx.store.run(
    'CREATE TABLE list_test (id INT PRIMARY KEY, name VARCHAR(60) NOT NULL, metres INT NOT NULL, port VARCHAR(30) NOT NULL)',
  );
  await ctx.store.run('INSERT INTO list_test VALUES ?', [ships.map((s) => [s.id, s.name, s.metres, s.port])]);
});
afterAll(async () => {
  await ctx.store.run('DROP TABLE list_test');
  await ctx.store.close();
});

/** The slow, obvious version. */
function expected({
  text = '',
  sort = 'id',
  order,
  port,
  long,
}: Record<string, string | undefined>): number[] {
  const kept = ships.filter(
    (s) =>
      s.name.toLowerCase().includes(text.toLowerCase()) &&
      (port === undefined || s.port === port) &&
      (long === undefined || s.metres >= 100),
  );
  const key = (s: Row) => (sort === 'name' ? s.name.toLowerCase() : sort === 'metres' ? s.metres : s.id);
  const up = (a: Row, b: Row) => (key(a) < key(b) ? -1 : key(a) > key(b) ? 1 : a.id - b.id);
  return kept.toSorted((a, b) => (order === 'down' ? up(b, a) : up(a, b))).map((s) => s.id);
}

async function pages(wish: Record<string, string | undefined>, size: number): Promise<number[]> {
  const ids: number[] = [];
  for await (const s of everyRow((after) => listPage(ctx.store, SOURCE, wish, { after, size })))
    ids.push(s.id);
  return ids;
}

describe('a declared list over a table', () => {
  it('gives every row once, in order, whatever is asked and however it is paged', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.record({
          text: fc.constantFrom(undefined, 'hale', '%', '_', 'nobody'),
          sort: fc.constantFrom('id', 'name', 'metres'),
          order: fc.constantFrom('up', 'down'),
          port: fc.constantFrom(undefined, 'Halmsund', "'; --"),
          long: fc.constantFrom(undefined, 'yes'),
        }),
        fc.integer({ min: 1, max: 25 }),
        async (wish, size) => {
          // Names that differ by case alone are alike to the database; ids decide.
          const ids = await pages(wish, size);
          expect(new Set(ids)).toEqual(new Set(expected(wish)));
          expect(ids).toHaveLength(new Set(ids).size);
          if (wish.sort !== 'name') expect(ids).toEqual(expected(wish));
          expect(await listCount(ctx.store, SOURCE, wish)).toBe(ids.length);
        },
      ),
      runs(40),
    );
  });

  it('keeps to what the caller lets through', async () => {
    const base = new Where().and('port = ?', 'Østervig');
    const page = await listPage(ctx.store, SOURCE, { long: 'yes' }, { base, size: 100 });
    expect(page.rows.length).toBeGreaterThan(0);
    expect(page.rows.every((s) => s.port === 'Østervig' && s.metres >= 100)).toBe(true);
  });

  it('counts by value without the filter that is counted for', async () => {
    const all = await listFacet(ctx.store, SOURCE, { port: 'Halmsund', long: 'yes' }, 'port', 'port');
    expect(all.map((f) => f.value).toSorted()).toEqual(['Halmsund', 'Marrow Quay', 'Østervig']);
    for (const { value, count } of all)
      expect(count).toBe(ships.filter((s) => s.port === value && s.metres >= 100).length);
  });

  it('refuses a page marker of another list', async () => {
    await expect(listPage(ctx.store, SOURCE, {}, { after: 'bm9uZQ', size: 5 })).rejects.toMatchObject({
      fields: [{ field: 'after' }],
    });
  });

  it('is exported whole, with its columns’ words, safe from formulas', async () => {
    await ctx.store.run("INSERT INTO list_test VALUES (999, '=cmd()', 1, 'Kaltenhagen')");
    const lines: string[] = [];
    const load = (after: string | undefined) =>
      listPage(ctx.store, SOURCE, { sort: 'metres' }, { after, size: 7 });
    for await (const line of listCsv(LIST, (s: Row) => ({ ...s }), load)) lines.push(line);
    await ctx.store.run('DELETE FROM list_test WHERE id = 999');
    expect(lines[0]).toBe('Name,Length,Port\r\n');
    expect(lines[1]).toBe("'=cmd(),1,Kaltenhagen\r\n");
    expect(lines).toHaveLength(62);
  });
});
