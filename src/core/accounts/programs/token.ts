import { z } from 'zod';
import { ACTIONS, type Action } from '../action.ts';
import type { Account } from '../authority.ts';
import type { HeldRole } from '../roles/held-role.ts';
import { PERMISSIONS } from '../roles/permissions.ts';

/** What only a person does: a token that could do it would hand on more than it was given. */
const BY_PEOPLE: ReadonlySet<string> = new Set<Action>([
  'own-sessions',
  'tokens.edit',
  'programs.edit',
  'accounts.edit',
  'accounts.roles',
]);

/** What a token can be given. */
export const TOKEN_ACTIONS: readonly Action[] = ACTIONS.filter((a) => !BY_PEOPLE.has(a));

export const MOST_TOKEN_DAYS = 365;

export const NewToken = z.object({
  name: z.string().trim().min(1, 'Give it a name.').max(120, '120 letters at most.'),
  actions: z
    .array(z.enum(TOKEN_ACTIONS as [Action, ...Action[]], 'This is not to be given to a program.'))
    .min(1, 'Say what it may do.')
    .max(TOKEN_ACTIONS.length),
  /** It opens nothing after so many. */
  days: z.int().min(1, 'A day at least.').max(MOST_TOKEN_DAYS, 'A year at most.'),
});
export type NewToken = z.infer<typeof NewToken>;

/**
 * An account as a token of it may act: what the token was given, of that what the account may itself, within the same
 * scope. It holds none of its roles by name.
 */
export function asToken(
  account: Account,
  token: { readonly id: number; readonly name: string; readonly actions: readonly string[] },
): Account {
  const given = new Set(token.actions);
  const held = new Set<string>(account.roles.flatMap((r) => r.actions));
  const isHeld = (a: Action) => held.has(a) || PERMISSIONS.get(a)?.roles === 'everyone';
  const role: HeldRole = {
    id: `token ${token.id}`,
    name: `token “${token.name}”`,
    actions: TOKEN_ACTIONS.filter((a) => given.has(a) && isHeld(a)),
  };
  return { ...account, roles: [role], token: token.id };
}
