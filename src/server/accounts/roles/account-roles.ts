import { z } from 'zod';
import { isOfficer } from '../../../core/accounts/roles/held-role.ts';
import { togetherAllow } from '../../../core/accounts/roles/role-kinship.ts';
import type { Action } from '../../../core/accounts/action.ts';
import { isKept } from '../../../core/accounts/scope.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import type { Queries } from '../../store/pool.ts';
import { toDatetime } from '../../store/columns.ts';
import { findAccount } from '../account.ts';
import { allRoles } from './all-roles.ts';
import { fitSessions, readPolicy } from '../sign-in/demand.ts';
import { refuseMore } from './refuse-more.ts';
import { lockHolders, refuseNoOfficer } from './stay-officer.ts';

const Content = z.object({
  roles: z
    .array(z.string().min(1).max(40))
    .max(20, '20 at most')
    .transform((ids) => [...new Set(ids)].sort()),
});
export type AccountRoles = z.infer<typeof Content>;

/** Which roles somebody holds, by the id of the account. */
export const ACCOUNT_ROLES: PlainKind<AccountRoles> = {
  object: 'account roles',
  content: Content,
  vocabulary: async (store) => {
    const names = new Map((await allRoles(store)).map((r) => [r.id, r.name]));
    return {
      path: ([first]) => (first === 'roles' ? 'Roles' : undefined),
      value: (value) =>
        Array.isArray(value)
          ? value.map((id) => names.get(String(id)) ?? String(id)).join(', ') || 'none'
          : undefined,
    };
  },
  read: async (store, key, lock) => ({
    roles: (await findAccount(store, Number(key), lock)).account.roles.map((r) => r.id).sort(),
  }),
  write: async (tx, key, { roles }, before, now, by) => {
    await lockHolders(tx);
    const { account } = await findAccount(tx, Number(key), true);
    const given = roles.filter((id) => !before.roles.includes(id));
    const taken = before.roles.filter((id) => !roles.includes(id));
    await refuseGift(tx, by, given);
    if (given.includes('officer') && isKept(account))
      throw new RefusedError('An officer answers for all of it.', [
        { field: 'content.roles', message: `${account.name} is kept to a part: let them see all first.` },
      ]);
    if (taken.length > 0)
      await tx.run('DELETE FROM account_role WHERE account_id = ? AND role IN (?)', [account.id, taken]);
    if (given.length > 0)
      await tx.run('INSERT INTO account_role (account_id, role, given_by, given_at) VALUES ?', [
        given.map((role) => [account.id, role, by, toDatetime(now)]),
      ]);
    await fitSessions(tx, await readPolicy(tx, 'share'), account.id);
    if (isOfficer(account)) await refuseNoOfficer(tx, 'content.roles');
  },
};

/** Throws a RefusedError for a role that is none, is not in force, or allows what the giver may not do. */
async function refuseGift(tx: Queries, by: number, given: readonly string[]): Promise<void> {
  if (given.length === 0) return;
  const all = await allRoles(tx);
  const roles = given.map((id) => all.find((r) => r.id === id));
  if (roles.includes(undefined))
    throw new RefusedError('There is no such role.', [
      { field: 'content.roles', message: 'Choose among those there are.' },
    ]);
  const idle = roles.find((r) => r?.state !== 'in force');
  if (idle)
    throw new RefusedError(`The role ${idle.name} is not in force.`, [
      { field: 'content.roles', message: 'Put it in force first: it allows nothing before.' },
    ]);
  const { account } = await findAccount(tx, by);
  refuseMore(account, togetherAllow(roles.flatMap((r) => r ?? [])) as Action[], 'content.roles');
}
