import { may } from '../../../core/accounts/authority.ts';
import { ACCOUNT_SQL, AccountRow } from '../../accounts/account.ts';
import type { Queries } from '../../store/pool.ts';

/** Those who may look into alerts, by name. */
export async function assignees(
  store: Queries,
): Promise<readonly { readonly id: number; readonly name: string }[]> {
  const accounts = await store.all(
    AccountRow,
    `SELECT ${ACCOUNT_SQL} FROM account a WHERE a.disabled_at IS NULL ORDER BY a.name LIMIT 1000`,
  );
  return accounts.filter((a) => may(a, 'protection.alerts')).map(({ id, name }) => ({ id, name }));
}
