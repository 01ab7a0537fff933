import { z } from 'zod';
import { MOST_ROWS, REST_KEY, type FigureRow } from '../../core/figures/figure-row.ts';
import type { Part } from '../../core/figures/figure.ts';
import { Count } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { count } from './count.ts';
import type { Figure } from './figure.ts';

/** A query that answers with `n`, and its values. */
export type Counting = string | readonly [sql: string, params: readonly (string | number)[]];

/** What a count is made of, in the words of its query: an expression of SQL each. */
export interface Each {
  /** The name and the parts follow from the key: they are expressions of `g.row_key`, looked up once a row, not once a count. */
  readonly byKey?: true;
  /** What is one row. */
  readonly key: string;
  readonly name: string;
  readonly parts?: Readonly<Partial<Record<Part, string>>>;
  readonly link?: (row: Pick<FigureRow, 'key' | 'name' | 'parts'>) => string;
}

type CountWords = Omit<Figure, 'value' | 'rows' | 'parts'>;

/** A figure that is counted by one query, out of what another counts; its rows are those the first counts. */
export function countFigure({
  counts,
  of,
  each,
  where,
  ...words
}: CountWords & {
  readonly counts: Counting | ((now: Date) => Counting);
  /** Absent where it is out of nothing. */
  readonly of?: Counting | ((now: Date) => Counting);
  readonly each: Each;
  /** Whether there is anything to count. */
  readonly where?: (store: Queries) => Promise<boolean>;
}): Figure {
  const at = (counting: Counting | ((now: Date) => Counting), now: Date) =>
    typeof counting === 'function' ? counting(now) : counting;
  // A share is told of each part, which takes what each row is out of.
  const shared = words.asShare === true && of !== undefined;
  return {
    ...words,
    ...(each.parts ? { parts: Object.keys(each.parts) as Part[] } : {}),
    value: async (store, now) => {
      if (where && !(await where(store))) return { value: null };
      return {
        value: await run(store, at(counts, now)),
        ...(of === undefined ? {} : { of: await run(store, at(of, now)) }),
      };
    },
    rows: async (store, now) => {
      if (where && !(await where(store))) return [];
      const counted = await rowsOf(store, at(counts, now), each, shared ? undefined : MOST_ROWS);
      return shared ? outOf(counted, await rowsOf(store, at(of, now), each)) : counted;
    },
  };
}

function run(store: Queries, counting: Counting): Promise<number> {
  return typeof counting === 'string' ? count(store, counting) : count(store, ...counting);
}

const COUNTED = /^\s*SELECT\s+([\s\S]+?)\s+AS n FROM\s/;

/** What a counting query counts, row by row, the largest first; `most` at most, and the rest in one. */
export async function rowsOf(
  store: Queries,
  counting: Counting,
  { key, name, parts = {}, link, byKey }: Each,
  most?: number,
): Promise<readonly FigureRow[]> {
  const [sql, params] = typeof counting === 'string' ? [counting, []] : counting;
  const counted = COUNTED.exec(sql);
  if (!counted) throw new Error(`A count begins with SELECT … AS n FROM: ${sql.slice(0, 60)}`);
  const names = Object.entries(parts);
  const told = (of: (expression: string) => string) =>
    [`${of(name)} AS row_name`, ...names.map(([part, e]) => `${of(e)} AS part_${part}`)].join(', ');
  const grouped = `SELECT ${key} AS row_key, ${counted[1] ?? ''} AS n${byKey ? '' : `, ${told((e) => `MIN(${e})`)}`}
    FROM ${sql.slice(counted[0].length)} GROUP BY row_key`;
  const first = `${grouped} ORDER BY n DESC, row_key${most === undefined ? '' : ` LIMIT ${most}`}`;
  const found = await store.all(
    z.looseObject({ row_key: z.coerce.string(), row_name: z.coerce.string().nullable(), n: Count }),
    byKey
      ? `SELECT g.row_key, g.n, ${told((e) => e)} FROM (${first}) AS g ORDER BY g.n DESC, g.row_key`
      : first,
    [...params],
  );
  const rows = found.map(({ row_key, row_name, n, ...its }): FigureRow => {
    const row = {
      key: row_key,
      name: row_name ?? row_key,
      parts: Object.fromEntries(
        names.flatMap(([part]) => {
          const value = its[`part_${part}`];
          return value === null || value === undefined ? [] : [[part, String(value)]];
        }),
      ),
    };
    return { ...row, n, link: link?.(row) ?? '' };
  });
  if (most === undefined || rows.length < most) return rows;
  const all = await store.one(
    z.object({ rows: Count, n: Count }),
    `SELECT COUNT(*) AS \`rows\`, COALESCE(SUM(n), 0) AS n FROM (${grouped}) AS g`,
    [...params],
  );
  const rest = (all?.n ?? 0) - rows.reduce((sum, r) => sum + r.n, 0);
  return rest === 0
    ? rows
    : [
        ...rows,
        { key: REST_KEY, name: `${(all?.rows ?? 0) - rows.length} more`, n: rest, link: '', parts: {} },
      ];
}

/** Rows with what each of them is out of, also those of which nothing was counted. */
export function outOf(counted: readonly FigureRow[], of: readonly FigureRow[]): readonly FigureRow[] {
  const numbers = new Map(counted.map((r) => [r.key, r.n]));
  return of.map((row) => ({ ...row, n: numbers.get(row.key) ?? 0, of: row.n }));
}

/** So many times 24 hours before. */
export function daysBefore(now: Date, days: number): Date {
  return new Date(now.getTime() - days * 86_400_000);
}
