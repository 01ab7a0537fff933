import { createHash } from 'node:crypto';
import { inflateSync } from 'node:zlib';
import { z } from 'zod';
import { lensText } from '../../../core/lens/lens-text.ts';
import type { Lens } from '../../../core/lens/lens.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { Bytes } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

export function lineHash(lens: Lens): Buffer {
  return createHash('sha256').update(lensText(lens)).digest().subarray(0, 16);
}

/** What was in a lens on a day, as the bytes of a set. Throws a RefusedError where that was not kept. */
export async function keptItems(store: Queries, lens: Lens, day: string): Promise<Uint8Array> {
  const row = await store.one(
    z.object({ items: Bytes }),
    'SELECT items FROM lens_day WHERE line_hash = ? AND day = ?',
    [lineHash(lens), day],
  );
  if (!row)
    throw new RefusedError('What was in this lens on that day was not kept.', [
      { field: 'since', message: 'Choose one of the days that are kept.' },
    ]);
  return inflateSync(row.items);
}
