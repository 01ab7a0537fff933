import { z } from 'zod';
import { exportColumns, listWish, type ListDefinition, type ListWish } from '../../core/lists/list.ts';
import { listShape } from '../../core/lists/list-shape.ts';
import { csvLine, type Cell } from '../http/csv.ts';
import { Count } from '../store/columns.ts';
import { decodeCursor, everyRow, PageSize, toPage, type Page } from '../store/page.ts';
import type { Queries } from '../store/pool.ts';
import { Where } from '../store/where.ts';

type Value = string | number | null;

/** Where the rows of a declared list come from. SQL in it is written here, never by who asks. */
export interface ListSource<Row> {
  readonly list: ListDefinition;
  readonly select: string;
  /** Tables and joins; with the index to go by where that must not be left to the server. */
  readonly from: string | ((wish: ListWish) => string);
  readonly row: z.ZodType<Row>;
  /** Tells rows apart, and orders those that are alike. */
  readonly id: string;
  /** The id is binary. */
  readonly bytes?: true;
  /** For each way to sort; never NULL, so that pages can follow by key. */
  readonly sorts: Readonly<Record<string, string>>;
  /** Columns that typing looks in. */
  readonly search?: readonly string[];
  readonly filters: Readonly<Record<string, (where: Where, value: string) => void>>;
}

/** What an endpoint of a page of a list takes, besides what it is the list of. */
export function pageShape(list: ListDefinition) {
  return { ...listShape(list), after: z.string().max(900).optional(), size: PageSize };
}

export type WishInput = Readonly<Record<string, unknown>>;

function conditions<Row>(
  { search, filters }: ListSource<Row>,
  wish: ListWish,
  where: Where,
  without?: string,
): Where {
  where.holding(search ?? [], search ? wish.text : '');
  for (const [id, value] of Object.entries(wish.filters)) if (id !== without) filters[id]?.(where, value);
  return where;
}

const fromOf = <Row>({ from }: ListSource<Row>, wish: ListWish) =>
  typeof from === 'string' ? from : from(wish);

const Key = z.tuple([z.union([z.string(), z.number()]), z.union([z.string(), z.number()])]);
const BytesKey = z.tuple([z.union([z.string(), z.number()]), z.hex()]);
const Sorted = z.looseObject({
  sort_key: z.union([z.string(), z.number()]),
  sort_id: z.union([z.string(), z.number()]),
});

/** A page, of rows that `base` lets through. */
export async function listPage<Row>(
  store: Queries,
  source: ListSource<Row>,
  input: WishInput,
  { base = new Where(), after, size }: { base?: Where | undefined; after?: string | undefined; size: number },
): Promise<Page<Row>> {
  const wish = listWish(source.list, input);
  const sort = source.sorts[wish.sort] ?? source.id;
  const [last, id] = after === undefined ? [] : decodeCursor(after, source.bytes ? BytesKey : Key);
  const where = conditions(source, wish, base).after(
    [sort, source.id],
    wish.order,
    last === undefined || id === undefined
      ? undefined
      : [last, source.bytes ? Buffer.from(String(id), 'hex') : id],
  );
  const direction = wish.order === 'up' ? 'ASC' : 'DESC';
  const rows = await store.all(
    Sorted,
    `SELECT ${source.select}, ${sort} AS sort_key, ${source.bytes ? `HEX(${source.id})` : source.id} AS sort_id FROM ${fromOf(source, wish)} WHERE ${where.sql} ORDER BY ${sort} ${direction}, ${source.id} ${direction} LIMIT ?`,
    [...where.params, size + 1],
  );
  const page = toPage(rows, size, (r) => [r.sort_key, r.sort_id]);
  return { next: page.next, rows: page.rows.map((r) => source.row.parse(r)) };
}

/** How many rows there are in all, counted no further than one over `most`. */
export async function listCount<Row>(
  store: Queries,
  source: ListSource<Row>,
  input: WishInput,
  base = new Where(),
  most?: number,
): Promise<number> {
  const wish = listWish(source.list, input);
  const where = conditions(source, wish, base);
  const from = `FROM ${fromOf(source, wish)} WHERE ${where.sql}`;
  const row = await store.one(
    z.object({ n: Count }),
    most === undefined
      ? `SELECT COUNT(*) AS n ${from}`
      : `SELECT COUNT(*) AS n FROM (SELECT 1 ${from} LIMIT ?) few`,
    most === undefined ? where.params : [...where.params, most + 1],
  );
  return row?.n ?? 0;
}

/** A page of a register: the first one with how many there are in all. */
export async function listRegister<Row>(
  store: Queries,
  source: ListSource<Row>,
  input: WishInput,
  {
    base = () => new Where(),
    after,
    size,
    countFrom = source.from,
  }: {
    base?: () => Where;
    after: string | undefined;
    size: number;
    /** Where counting needs fewer tables than showing. */
    countFrom?: ListSource<Row>['from'];
  },
): Promise<Page<Row> & { total?: number }> {
  const page = await listPage(store, source, input, { base: base(), after, size });
  if (after !== undefined) return page;
  return { ...page, total: await listCount(store, { ...source, from: countFrom }, input, base()) };
}

export interface Facet {
  readonly value: Value;
  readonly count: number;
}

/** The values of a filter with how many rows each would leave, the most first; the filter itself is left aside. */
export async function listFacet<Row>(
  store: Queries,
  source: ListSource<Row>,
  input: WishInput,
  filter: string,
  /** What is counted by. */
  column: string,
  base = new Where(),
  most = 50,
  /** Counts among so many of the first rows only. */
  among?: number,
): Promise<readonly Facet[]> {
  const wish = listWish(source.list, input);
  const where = conditions(source, wish, base, filter);
  const sort = source.sorts[wish.sort] ?? source.id;
  const direction = wish.order === 'up' ? 'ASC' : 'DESC';
  const from = `FROM ${fromOf(source, wish)} WHERE ${where.sql}`;
  const rows =
    among === undefined
      ? `SELECT ${column} AS value, COUNT(*) AS count ${from}`
      : `SELECT value, COUNT(*) AS count FROM (SELECT ${column} AS value ${from} ORDER BY ${sort} ${direction}, ${source.id} ${direction} LIMIT ?) first`;
  return store.all(
    z.object({ value: z.union([z.string(), z.number(), z.null()]), count: Count }),
    `${rows} GROUP BY value ORDER BY count DESC, value LIMIT ?`,
    [...where.params, ...(among === undefined ? [] : [among]), most],
  );
}

/**
 * The same for several filters at once, among so many of the first rows: those that are not set are counted in one pass,
 * each that is set in one of its own. By filter, then by value; what has no value is left out.
 */
export async function listFacets<Row, F extends string>(
  store: Queries,
  source: ListSource<Row>,
  input: WishInput,
  /** What is counted by, for each filter. */
  columns: Readonly<Record<F, string>>,
  among: number,
): Promise<Readonly<Record<F, Readonly<Record<string, number>>>>> {
  const wish = listWish(source.list, input);
  const filters = Object.keys(columns) as F[];
  const unset = filters.filter((f) => wish.filters[f] === undefined);
  const passes = [unset, ...filters.filter((f) => !unset.includes(f)).map((f) => [f])].filter(
    (p) => p.length > 0,
  );
  const counted = {} as Record<F, Record<string, number>>;
  await Promise.all(
    passes.map(async (pass) => {
      const [only] = pass;
      const where = conditions(source, wish, new Where(), pass === unset ? undefined : only);
      const sort = source.sorts[wish.sort] ?? source.id;
      const direction = wish.order === 'up' ? 'ASC' : 'DESC';
      const rows = await store.all(
        z.looseObject({ count: Count }),
        `SELECT ${pass.map((f) => `${f}_`).join(', ')}, COUNT(*) AS count FROM (
           SELECT ${pass.map((f) => `${columns[f]} AS ${f}_`).join(', ')} FROM ${fromOf(source, wish)} WHERE ${where.sql}
           ORDER BY ${sort} ${direction}, ${source.id} ${direction} LIMIT ?) first
         GROUP BY ${pass.map((f) => `${f}_`).join(', ')}`,
        [...where.params, among],
      );
      for (const f of pass) {
        const by: Record<string, number> = {};
        for (const row of rows) {
          const value = row[`${f}_`];
          if (value === null || value === '' || value === 0) continue;
          by[String(value)] = (by[String(value)] ?? 0) + row.count;
        }
        counted[f] = by;
      }
    }),
  );
  return counted;
}

/** All pages as lines of CSV, a row with the columns' words first. */
export async function* listCsv<Row>(
  list: ListDefinition,
  cells: (row: Row) => Readonly<Record<string, Cell>>,
  load: (after: string | undefined) => Promise<Page<Row>>,
): AsyncGenerator<string> {
  const columns = exportColumns(list);
  yield csvLine(columns.map(([, c]) => c.words));
  for await (const row of everyRow(load)) {
    const of = cells(row);
    yield csvLine(columns.map(([id]) => of[id] ?? ''));
  }
}
