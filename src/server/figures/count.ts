import { z } from 'zod';
import { Count } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

/** The one number that a query answers with as `n`. */
export async function count(
  store: Queries,
  sql: string,
  params: readonly (string | number)[] = [],
): Promise<number> {
  return (await store.one(z.object({ n: Count }), sql, params))?.n ?? 0;
}
