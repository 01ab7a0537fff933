import type { Action } from './action.ts';
import { roleWords, type HeldRole, type Holder } from './roles/held-role.ts';
import { PERMISSIONS, permissionWords } from './roles/permissions.ts';
import { outsideScope, type Placed, type Scope } from './scope.ts';

export interface Account {
  readonly id: number;
  readonly email: string;
  readonly name: string;
  /** What they allow adds up. */
  readonly roles: readonly HeldRole[];
  readonly title: string;
  /** Absent where it is kept to nothing. */
  readonly scope?: Scope | undefined;
  /** Of the token that acts as it; absent for the person. */
  readonly token?: number;
}

/** What an action is done to, for grants that depend on it and for the log. */
export interface AuthorityObject extends Placed {
  readonly id: string | number | null;
}

export type Verdict = { readonly allowed: true } | { readonly allowed: false; readonly why: string };

/**
 * The one question every endpoint asks. `account` is `undefined` for someone not signed in.
 * An object that belongs to somebody (a session) is only open to its owner.
 */
export function authorize(
  account: Account | undefined,
  action: Action,
  object: AuthorityObject & { readonly owner?: number },
): Verdict {
  if (!account) return { allowed: false, why: 'Sign in first.' };
  if (!may(account, action))
    return {
      allowed: false,
      why: lacks(account, action),
    };
  if (object.owner !== undefined && object.owner !== account.id)
    return { allowed: false, why: `This ${object.kind} belongs to someone else.` };
  const outside = outsideScope(account, object);
  if (outside !== undefined) return { allowed: false, why: outside };
  return { allowed: true };
}

export function may({ roles, token }: Holder, action: Action): boolean {
  if (roles.some((r) => r.actions.includes(action))) return true;
  return token === undefined && PERMISSIONS.get(action)?.roles === 'everyone';
}

function lacks({ roles }: Holder, action: Action): string {
  const words = permissionWords(action);
  if (roles.length === 0) return `You have no role, and it takes one that includes ${words}.`;
  return roles.length === 1
    ? `Your role, ${roleWords({ roles })}, does not include ${words}.`
    : `Your roles, ${roleWords({ roles })}, do not include ${words}.`;
}
