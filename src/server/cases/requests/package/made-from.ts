import { createHash } from 'node:crypto';
import { z } from 'zod';
import { BigId } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';

/** A digest of the items of a request as they stand: what a package is made from. */
export async function madeFrom(store: Queries, request: number): Promise<Buffer> {
  const rows = await store.all(
    z.object({ id: BigId, state: z.string(), version: z.number() }),
    "SELECT id, state, version FROM request_item WHERE request_id = ? AND theirs = 'yes' ORDER BY id",
    [request],
  );
  return createHash('sha256')
    .update(rows.map((r) => `${r.id} ${r.state} ${r.version}`).join('\n'))
    .digest();
}
