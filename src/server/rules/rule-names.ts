import { z } from 'zod';
import type { Queries } from '../store/pool.ts';

/** The names of all rules of a kind, by id, whatever their state: what carries one stays readable. */
export async function ruleNames(store: Queries, kind: string): Promise<ReadonlyMap<string, string>> {
  const rows = await store.all(
    z.object({ id: z.string(), name: z.string() }),
    'SELECT id, name FROM rule WHERE kind = ? ORDER BY name, id',
    [kind],
  );
  return new Map(rows.map((r) => [r.id, r.name]));
}
