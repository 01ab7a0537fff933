import { z } from 'zod';
import type { Action } from '../../core/accounts/action.ts';
import { may } from '../../core/accounts/authority.ts';
import type { SlotOption } from '../../core/rules/sentence.ts';
import type { Queries } from '../store/pool.ts';
import { ACCOUNT_SQL, AccountRow } from './account.ts';

/** Of everybody with an account, by their number. */
export async function accountNames(store: Queries): Promise<ReadonlyMap<number, string>> {
  const rows = await store.all(
    z.object({ id: z.number(), name: z.string() }),
    'SELECT id, name FROM account',
  );
  return new Map(rows.map((r) => [r.id, r.name]));
}

/** Everybody by name, and whether they can sign in and may do something now. */
export async function peopleWho(
  store: Queries,
  action: Action,
): Promise<readonly { readonly id: number; readonly name: string; readonly able: boolean }[]> {
  const rows = await store.all(
    AccountRow.extend({ off: z.number() }),
    `SELECT ${ACCOUNT_SQL}, a.disabled_at IS NOT NULL AS off FROM account a ORDER BY a.name, a.id LIMIT 2000`,
  );
  return rows.map((r) => ({ id: r.id, name: r.name, able: r.off === 0 && may(r, action) }));
}

/** Accounts that can sign in, by their addresses, for choosing among them in a sentence; those that may do `action`. */
export async function accountOptions(store: Queries, action?: Action): Promise<readonly SlotOption[]> {
  const rows = await store.all(
    AccountRow,
    `SELECT ${ACCOUNT_SQL} FROM account a WHERE a.disabled_at IS NULL ORDER BY a.name, a.id LIMIT 2000`,
  );
  return rows
    .filter((a) => action === undefined || may(a, action))
    .map((a) => ({ value: a.email, words: a.name, detail: a.email }));
}
