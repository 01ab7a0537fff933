import { z } from 'zod';
import type { Queries } from '../../store/pool.ts';

/** Whoever looks after the system of each source, by the number of the source; of those that have somebody. */
export async function sourceStewards(
  store: Queries,
): Promise<ReadonlyMap<number, { readonly name: string; readonly email: string }>> {
  const rows = await store.all(
    z.object({ id: z.number(), name: z.string(), email: z.string() }),
    `SELECT o.id, a.name, a.email FROM source o JOIN data_system s ON s.id = o.system_id
     JOIN account a ON a.id = JSON_VALUE(s.content, '$.steward')`,
  );
  return new Map(rows.map((r) => [r.id, r]));
}
