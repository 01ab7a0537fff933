import { z } from 'zod';
import type { Purpose } from '../../../core/websites/notice/purpose.ts';
import { Flag } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

/** The organisation's purposes, in its order. */
export function listPurposes(store: Queries): Promise<Purpose[]> {
  return store.all(
    z.object({ code: z.string(), name: z.string(), essential: Flag, shares: Flag }),
    'SELECT code, name, essential, shares FROM purpose ORDER BY place',
  );
}
