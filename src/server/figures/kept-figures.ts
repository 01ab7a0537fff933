import { z } from 'zod';
import type { FigureValue } from '../../core/figures/figure.ts';
import type { Context } from '../context.ts';
import { Instant, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import type { Figure } from './figure.ts';

/** What a figure was on a day of UTC, as last counted then. */
export interface KeptValue extends FigureValue {
  /** `2026-11-20` */
  readonly day: string;
  readonly countedAt: string;
}

/** Counts a figure and keeps it as the value of this day. */
export async function keepFigure(ctx: Context, figure: Figure): Promise<void> {
  const now = ctx.now();
  const { value, of, low, high } = await figure.value(ctx.store, now, ctx);
  await ctx.store.run(
    'REPLACE INTO figure_value (figure, day, value, out_of, low, high, counted_at) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [
      figure.id,
      now.toISOString().slice(0, 10),
      value,
      of ?? null,
      low ?? null,
      high ?? null,
      toDatetime(now),
    ],
  );
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
