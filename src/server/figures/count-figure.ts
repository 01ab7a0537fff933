import type { Queries } from '../store/pool.ts';
import { count } from './count.ts';
import type { Figure } from './figure.ts';

/** A query that answers with `n`, and its values. */
export type Counting = string | readonly [sql: string, params: readonly (string | number)[]];

/** A figure that is counted by one query, out of what another counts. */
export function countFigure({
  counts,
  of,
  ...words
}: Omit<Figure, 'value'> & {
  readonly counts: Counting | ((now: Date) => Counting);
  /** Absent where it is out of nothing. */
  readonly of?: Counting | ((now: Date) => Counting);
}): Figure {
  return {
    ...words,
    value: async (store, now) => ({
      value: await run(store, typeof counts === 'function' ? counts(now) : counts),
      ...(of === undefined ? {} : { of: await run(store, typeof of === 'function' ? of(now) : of) }),
    }),
  };
}

function run(store: Queries, counting: Counting): Promise<number> {
  return typeof counting === 'string' ? count(store, counting) : count(store, ...counting);
}

/** So many times 24 hours before. */
export function daysBefore(now: Date, days: number): Date {
  return new Date(now.getTime() - days * 86_400_000);
}
