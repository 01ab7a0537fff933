import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import {
  demandOn,
  meets,
  SignInPolicy,
  USUAL_POLICY,
  type DemandOn,
} from '../../../core/accounts/sign-in/policy.ts';
import { WAYS } from '../../../core/accounts/sign-in/way.ts';
import { Bytes, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { RolesColumn, ROLES_SQL } from '../roles/roles-column.ts';

/** What signing in asks, of everybody and of roles; with `lock` it stays so until the transaction is over. */
export async function readPolicy(store: Queries, lock: '' | 'share' | 'write' = ''): Promise<SignInPolicy> {
  const locks = { '': '', share: ' LOCK IN SHARE MODE', write: ' FOR UPDATE' };
  const row = await store.one(
    z.object({ content: JsonColumn(SignInPolicy) }),
    `SELECT content FROM sign_in_policy WHERE id = 1${locks[lock]}`,
  );
  return row?.content ?? USUAL_POLICY;
}

/** What is asked of an account. */
export async function demandOf(
  store: Queries,
  account: Pick<Account, 'roles'>,
  lock = false,
): Promise<DemandOn> {
  return demandOn(
    await readPolicy(store, lock ? 'share' : ''),
    account.roles.map((r) => r.id),
  );
}

const Open = z.object({
  id: Bytes,
  way: z.enum(WAYS),
  created_at: Instant,
  roles: RolesColumn,
});

/**
 * Makes the open sessions of an account, or of everybody, fit what is asked now: those that began otherwise end, the others
 * last as long as it lets them. How many ended.
 */
export async function fitSessions(tx: Queries, policy: SignInPolicy, account?: number): Promise<number> {
  const open = await tx.all(
    Open,
    `SELECT s.id, s.way, s.created_at, ${ROLES_SQL} FROM session s JOIN account a ON a.id = s.account_id
     ${account === undefined ? '' : 'WHERE a.id = ?'}`,
    account === undefined ? [] : [account],
  );
  const ended: Buffer[] = [];
  for (const { id, way, created_at, roles } of open) {
    const demand = demandOn(
      policy,
      roles.map((r) => r.id),
    );
    if (!meets(demand, way)) ended.push(id);
    else
      await tx.run('UPDATE session SET idle_seconds = ?, expires_at = ? WHERE id = ?', [
        ...[demand.idleMinutes * 60],
        ...[toDatetime(new Date(Date.parse(created_at) + demand.mostHours * 3600_000)), id],
      ]);
  }
  if (ended.length > 0) await tx.run('DELETE FROM session WHERE id IN (?)', [ended]);
  return ended.length;
}
