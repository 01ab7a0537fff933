import { z } from 'zod';
import { admission, type Admission, type Candidate } from '../../../core/accounts/sign-on/admission.ts';
import type { Person } from '../../../core/accounts/sign-on/claims.ts';
import { rolesOfGroups, type ToldRole } from '../../../core/accounts/sign-on/group-roles.ts';
import { meets } from '../../../core/accounts/sign-in/policy.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { Count, Flag, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { addWithoutPassword, findAccount } from '../account.ts';
import { allRoles } from '../roles/all-roles.ts';
import { lockHolders } from '../roles/stay-officer.ts';
import { beginSession, type From, type SignedIn } from '../session.ts';
import { demandOf } from '../sign-in/demand.ts';
import { tellRefused } from '../sign-in/prove-password.ts';
import { setGroups, settleGroupRoles } from './group-roles.ts';
import type { Told } from './oidc.ts';

/** What would be done with somebody, and why. */
export interface Judged {
  readonly admission: Admission;
  readonly told: readonly ToldRole[];
}

const Found = z
  .object({ id: Count, disabled: Flag, is_another: Flag })
  .transform((r): Candidate => ({ id: r.id, disabled: r.disabled, isAnother: r.is_another }));

/** Decides about somebody of whom a provider told; changes nothing. */
export async function judge(store: Queries, { provider, content, person }: Told): Promise<Judged> {
  const known = await store.one(
    Found,
    `SELECT a.id, a.disabled_at IS NOT NULL AS disabled, FALSE AS is_another FROM account_identity i JOIN account a ON a.id = i.account_id
     WHERE i.provider_id = ? AND i.subject = ?`,
    [provider, person.subject],
  );
  const byEmail =
    person.email === undefined
      ? undefined
      : await store.one(
          Found,
          `SELECT a.id, a.disabled_at IS NOT NULL AS disabled,
             EXISTS (SELECT 1 FROM account_identity i WHERE i.provider_id = ? AND i.account_id = a.id AND i.subject <> ?) AS is_another
           FROM account a WHERE a.email = ?`,
          [provider, person.subject, person.email],
        );
  const told = rolesOfGroups(content.groups, await groupsOf(store, provider, person));
  const inForce = new Set((await allRoles(store)).filter((r) => r.state === 'in force').map((r) => r.id));
  return {
    told,
    admission: admission(person, content, {
      ...(known ? { known } : {}),
      ...(byEmail ? { byEmail } : {}),
      givenRoles: told.filter((t) => inForce.has(t.role)).length,
    }),
  };
}

/** Those it tells now; where it keeps groups by SCIM, those that it keeps of whoever it is as well. */
async function groupsOf(store: Queries, provider: number, person: Person): Promise<readonly string[]> {
  const kept = await store.all(
    z.object({ name: z.string() }),
    `SELECT g.name FROM identity_group g JOIN identity_group_member m ON m.group_id = g.id
     JOIN account a ON a.id = m.account_id WHERE g.provider_id = ? AND g.kept AND a.email = ?`,
    [provider, person.email ?? ''],
  );
  return [...new Set([...(person.groups ?? []), ...kept.map((g) => g.name)])];
}

/**
 * Lets somebody in on a provider's word: finds, links or makes the account, gives what their groups give, and begins a
 * session. Throws a RefusedError (403) that says why not.
 */
export async function admit(ctx: Context, told: Told, from: From): Promise<SignedIn> {
  const { provider, content, person } = told;
  const outcome = await ctx.store.transaction(async (tx) => {
    await lockHolders(tx);
    const { admission: verdict } = await judge(tx, told);
    if (verdict.as === 'refused') return verdict;
    const now = toDatetime(ctx.now());
    const account =
      verdict.as === 'made' ? await makeAccount(tx, ctx.now(), provider, person) : verdict.account;
    if (verdict.as === 'known')
      await tx.run('UPDATE account_identity SET seen_at = ? WHERE provider_id = ? AND account_id = ?', [
        ...[now, provider, account],
      ]);
    else {
      await tx.run(
        'INSERT INTO account_identity (provider_id, subject, account_id, linked_at, seen_at) VALUES (?)',
        [[provider, person.subject, account, now, now]],
      );
      await record(tx, ctx.now(), {
        ...{ actor: account, action: 'account.link', object: 'account', objectId: account },
        detail: { provider: content.name },
      });
    }
    if (person.groups !== undefined) await setGroups(tx, ctx.now(), provider, account, person.groups);
    await settleGroupRoles(tx, ctx.now(), account, account);
    return account;
  });
  if (typeof outcome !== 'number') {
    await tellRefused(ctx, undefined, { provider: content.name, why: outcome.why });
    throw new RefusedError(outcome.why, [{ field: 'provider', message: outcome.help }], 403);
  }
  const { account } = await findAccount(ctx.store, outcome);
  const demand = await demandOf(ctx.store, account);
  if (!meets(demand, 'sign-on'))
    throw new RefusedError(
      'Sign-on does not do for what you may do here.',
      [{ field: 'provider', message: 'Sign in with what is your own: a password and more, or a passkey.' }],
      403,
    );
  return beginSession(ctx, account, { way: 'sign-on', provider, ...from });
}

async function makeAccount(tx: Queries, now: Date, provider: number, person: Person): Promise<number> {
  const id = await addWithoutPassword(tx, {
    ...{ email: person.email ?? '', name: person.name, title: person.title },
  });
  await record(tx, now, {
    ...{ actor: 'system', action: 'account.add', object: 'account', objectId: id, detail: { provider } },
  });
  return id;
}
