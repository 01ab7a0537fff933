import { z } from 'zod';
import { BigId } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { hash16 } from './item-hash.ts';

/**
 * Gives an item another name in its place, where it has another. What a survey took for a new item of that name meanwhile
 * was this one, and goes.
 */
export async function renameItem(tx: Queries, id: number, name: string): Promise<void> {
  const row = await tx.one(
    z.object({ place_id: BigId, name: z.string() }),
    'SELECT place_id, name FROM item WHERE id = ? FOR UPDATE',
    [id],
  );
  if (!row || row.name === name) return;
  await tx.run('DELETE FROM item WHERE place_id = ? AND name_hash = ? AND id <> ?', [
    row.place_id,
    hash16(name),
    id,
  ]);
  await tx.run('UPDATE item SET name = ?, name_hash = ? WHERE id = ?', [name, hash16(name), id]);
}
