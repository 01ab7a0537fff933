import { z } from 'zod';
import { policyVerdict, type SigningIn } from '../../../core/accounts/sign-in/policy-outlook.ts';
import { policyVocabulary, SignInPolicy } from '../../../core/accounts/sign-in/policy.ts';
import { WAYS } from '../../../core/accounts/sign-in/way.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { Flag, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { allRoles } from '../roles/all-roles.ts';
import { RolesColumn, ROLES_SQL } from '../roles/roles-column.ts';
import { OPEN, openAt } from '../open-session.ts';
import { fitSessions, readPolicy } from './demand.ts';

/** What is asked of those who sign in. There is one, of the desk. */
export const SIGN_IN_POLICY: PlainKind<SignInPolicy> = {
  object: 'sign-in policy',
  content: SignInPolicy,
  vocabulary: async (store) => {
    const names = new Map((await allRoles(store)).map((r) => [r.id, r.name]));
    return policyVocabulary((id) => names.get(id) ?? id);
  },
  read: (store, _key, lock) => readPolicy(store, lock ? 'write' : ''),
  write: async (tx, _key, policy, _before, now, by) => {
    const people = await peopleSigningIn(tx, now);
    const shutOut = people.filter((p) => policyVerdict(policy, p).verdict === 'cannot');
    const officers = people.filter((p) => p.roles.includes('officer'));
    if (shutOut.some((p) => p.id === by))
      throw new RefusedError('You could not sign in any more.', [
        {
          field: 'content',
          message: 'Sign in once in a way that it asks for, so that you know that it works; then ask for it.',
        },
      ]);
    if (officers.every((o) => shutOut.includes(o)))
      throw new RefusedError('No officer could sign in any more.', [
        { field: 'content', message: 'Leave officers a way in that one of them has.' },
      ]);
    await tx.run(
      'INSERT INTO sign_in_policy (id, content) VALUES (1, ?) ON DUPLICATE KEY UPDATE content = VALUES(content)',
      [JSON.stringify(policy)],
    );
    await fitSessions(tx, policy);
  },
};

const Row = z
  .object({
    id: z.number(),
    name: z.string(),
    roles: RolesColumn,
    has_password: Flag,
    has_code: Flag,
    has_passkey: Flag,
    signs_on: Flag,
    ways: JsonColumn(z.array(z.enum(WAYS)).nullable()),
  })
  .transform(({ id, name, roles, ways, ...has }): SigningIn & { readonly name: string } => ({
    ...{ id, name, roles: roles.map((r) => r.id), sessions: ways ?? [] },
    ...{ hasPassword: has.has_password, hasCode: has.has_code, hasPasskey: has.has_passkey },
    signsOn: has.signs_on,
  }));

/** Everybody who is not disabled, with what they can sign in with and how they did. */
export function peopleSigningIn(store: Queries, now: Date): Promise<readonly z.infer<typeof Row>[]> {
  return store.all(
    Row,
    `SELECT a.id, a.name, ${ROLES_SQL}, a.password_hash <> '' AS has_password,
       EXISTS (SELECT 1 FROM one_time_code c WHERE c.account_id = a.id) AS has_code,
       EXISTS (SELECT 1 FROM passkey k WHERE k.account_id = a.id) AS has_passkey,
       EXISTS (SELECT 1 FROM account_identity i JOIN identity_provider p ON p.id = i.provider_id
               WHERE i.account_id = a.id AND p.stopped_at IS NULL) AS signs_on,
       (SELECT JSON_ARRAYAGG(s.way) FROM session s WHERE s.account_id = a.id AND ${OPEN}) AS ways
     FROM account a WHERE a.disabled_at IS NULL ORDER BY a.name, a.id`,
    [...openAt(now)],
  );
}
