import { z } from 'zod';
import type { ScopeOption } from '../../area.ts';
import type { Queries } from '../../store/pool.ts';

/** The sites that an account can be kept to. */
export async function siteOptions(store: Queries): Promise<readonly ScopeOption[]> {
  const rows = await store.all(
    z.object({ id: z.number(), host: z.string() }),
    'SELECT id, host FROM site ORDER BY host LIMIT 2000',
  );
  return rows.map((r) => ({ id: String(r.id), words: r.host }));
}
