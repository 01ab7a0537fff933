import { z } from 'zod';
import { may } from '../../core/accounts/authority.ts';
import { ACCOUNT_SQL, AccountRow } from '../accounts/account.ts';
import type { Queries } from '../store/pool.ts';

/** Of everybody with an account, by their number. */
export async function accountNames(store: Queries): Promise<ReadonlyMap<number, string>> {
  const rows = await store.all(
    z.object({ id: z.number(), name: z.string() }),
    'SELECT id, name FROM account',
  );
  return new Map(rows.map((r) => [r.id, r.name]));
}

/** Who may work on measures and can sign in, by name; with those who could once, for what they did then. */
export async function peopleForWork(
  store: Queries,
): Promise<readonly { readonly id: number; readonly name: string; readonly able: boolean }[]> {
  const rows = await store.all(
    AccountRow.extend({ off: z.number() }),
    `SELECT ${ACCOUNT_SQL}, a.disabled_at IS NOT NULL AS off FROM account a ORDER BY a.name, a.id LIMIT 2000`,
  );
  return rows.map((r) => ({ id: r.id, name: r.name, able: r.off === 0 && may(r, 'obligations.work') }));
}
