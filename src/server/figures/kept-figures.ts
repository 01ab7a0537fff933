import { z } from 'zod';
import { fewRows, rowChanges, type FigureRow } from '../../core/figures/figure-row.ts';
import { PART_NAMES, type DayValue } from '../../core/figures/figure.ts';
import type { Context } from '../context.ts';
import { Instant, JsonColumn, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import type { Figure } from './figure.ts';

/** What a figure was on a day of UTC, as last counted then. */
export interface KeptValue extends DayValue {
  readonly countedAt: string;
}

/** As many rows go into one statement. */
const AT_ONCE = 500;
const [LONGEST_KEY, LONGEST_NAME] = [190, 500];
/** The middle of rows is not kept by their sum. */
const MOST_OF_MIDDLE = 20_000;

/** Counts a figure and keeps it, with its rows, as the value of this day. */
export async function keepFigure(ctx: Context, figure: Figure): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    const day = now.toISOString().slice(0, 10);
    // Whoever counts the same meanwhile waits.
    await tx.run(
      'INSERT INTO figure_value (figure, day, counted_at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE counted_at = VALUES(counted_at)',
      [figure.id, day, toDatetime(now)],
    );
    const { value, of, low, high } = await figure.value(tx, now, ctx);
    const rows = await figure.rows(tx, now, ctx);
    await tx.run(
      'UPDATE figure_value SET value = ?, out_of = ?, low = ?, high = ? WHERE figure = ? AND day = ?',
      [value, of ?? null, low ?? null, high ?? null, figure.id, day],
    );
    await keepRows(tx, figure.id, day, fewRows(rows, figure.from === 'middle' ? MOST_OF_MIDDLE : undefined));
  });
}

/** Writes what differs from the rows that stand. */
export async function keepRows(
  tx: Queries,
  figure: string,
  day: string,
  found: readonly FigureRow[],
): Promise<void> {
  const rows = found.map((r) => ({
    ...r,
    key: r.key.slice(0, LONGEST_KEY),
    name: r.name.slice(0, LONGEST_NAME),
    link: r.link.length > LONGEST_NAME ? '' : r.link,
  }));
  const stood = await tx.all(Row, `${SELECT} WHERE figure = ? AND until IS NULL FOR UPDATE`, [figure]);
  const { over, begun } = rowChanges(stood.map(toRow), rows);
  for (let at = 0; at < over.length; at += AT_ONCE) {
    const keys = over.slice(at, at + AT_ONCE);
    // What began today and is over today never stood at the end of one.
    await tx.run('DELETE FROM figure_row WHERE figure = ? AND row_key IN (?) AND since = ?', [
      figure,
      keys,
      day,
    ]);
    await tx.run('UPDATE figure_row SET until = ? WHERE figure = ? AND row_key IN (?) AND until IS NULL', [
      ...[day, figure, keys],
    ]);
  }
  for (let at = 0; at < begun.length; at += AT_ONCE)
    await tx.run('INSERT INTO figure_row (figure, row_key, since, name, n, out_of, link, parts) VALUES ?', [
      begun
        .slice(at, at + AT_ONCE)
        .map((r) => [figure, r.key, day, r.name, r.n, r.of ?? null, r.link, JSON.stringify(r.parts)]),
    ]);
}

const SELECT = 'SELECT row_key, name, n, out_of, link, parts FROM figure_row';
const Row = z.object({
  row_key: z.string(),
  name: z.string(),
  n: z.number(),
  out_of: z.number().nullable(),
  link: z.string(),
  parts: JsonColumn(z.partialRecord(z.enum(PART_NAMES), z.string())),
});

function toRow({ row_key, out_of, ...row }: z.infer<typeof Row>): FigureRow {
  return { ...row, key: row_key, ...(out_of === null ? {} : { of: out_of }) };
}

/** The rows of a figure at the end of a day, the largest first. */
export async function rowsOn(store: Queries, figure: string, day: string): Promise<readonly FigureRow[]> {
  const rows = await store.all(
    Row,
    `${SELECT} WHERE figure = ? AND since <= ? AND (until IS NULL OR until > ?) ORDER BY n DESC, row_key`,
    [figure, day, day],
  );
  return rows.map(toRow);
}

/** Values of figures by their id since a day, oldest first. */
export async function keptFigures(
  store: Queries,
  ids: readonly string[],
  since: Date,
): Promise<ReadonlyMap<string, readonly KeptValue[]>> {
  if (ids.length === 0) return new Map();
  const rows = await store.all(
    z.object({
      figure: z.string(),
      day: z.string(),
      value: z.number().nullable(),
      out_of: z.number().nullable(),
      low: z.number().nullable(),
      high: z.number().nullable(),
      counted_at: Instant,
    }),
    `SELECT figure, DATE_FORMAT(day, '%Y-%m-%d') AS day, value, out_of, low, high, counted_at
     FROM figure_value WHERE figure IN (?) AND day >= ? ORDER BY figure, day`,
    [ids, since.toISOString().slice(0, 10)],
  );
  const kept = new Map<string, KeptValue[]>();
  for (const { figure, out_of, low, high, counted_at, ...rest } of rows) {
    const all = kept.get(figure) ?? [];
    all.push({
      ...rest,
      countedAt: counted_at,
      ...(out_of === null ? {} : { of: out_of }),
      ...(low === null || high === null ? {} : { low, high }),
    });
    kept.set(figure, all);
  }
  return kept;
}

/** Rows are of use as long as boards look back; what was over before is let go. */
const ROWS_KEPT_DAYS = 1200;

export async function forgetOldFigures(ctx: Context): Promise<void> {
  const day = new Date(ctx.now().getTime() - ROWS_KEPT_DAYS * 86_400_000).toISOString().slice(0, 10);
  await ctx.store.run('DELETE FROM figure_row WHERE until < ? LIMIT 50000', [day]);
  await ctx.store.run('DELETE FROM figure_value WHERE day < ? LIMIT 50000', [day]);
}
