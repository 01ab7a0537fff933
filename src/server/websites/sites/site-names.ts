import { z } from 'zod';
import { BigId } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

/** Sites by name. */
export function siteNames(
  store: Queries,
): Promise<readonly { readonly id: string; readonly name: string }[]> {
  return store.all(
    z.object({ id: BigId, name: z.string() }),
    'SELECT id, name FROM site ORDER BY name, id LIMIT 2000',
  );
}
