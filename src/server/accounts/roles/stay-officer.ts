import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import { Count } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

/**
 * Begins a change of who may sign in or what they hold. One at a time: two who take the last two officers away from each
 * other come one after the other, and the later sees what the first did.
 */
export async function lockHolders(tx: Queries): Promise<void> {
  await tx.all(z.object({ id: z.number() }), 'SELECT id FROM account ORDER BY id FOR UPDATE');
}

/** Throws a RefusedError where, in this transaction, nobody is left who can sign in and may do everything. */
export async function refuseNoOfficer(tx: Queries, field: string): Promise<void> {
  const left = await tx.one(
    z.object({ n: Count }),
    "SELECT COUNT(*) AS n FROM account a JOIN account_role h ON h.account_id = a.id WHERE a.disabled_at IS NULL AND h.role = 'officer'",
  );
  if (left?.n) return;
  throw new RefusedError(
    'Nobody would be left who may do everything.',
    [{ field, message: 'Make somebody else an officer first: nobody else could give it back.' }],
    409,
  );
}
