import type { Permission } from '../area.ts';
import { AREAS } from '../areas.ts';
import type { Action } from './action.ts';
import type { Role } from './role.ts';
import { outsideScope, type Placed, type Scope } from './scope.ts';

/** By the name of what it allows; nothing else grants anything. */
const PERMISSIONS = new Map<string, Permission>(AREAS.flatMap((a) => Object.entries(a.actions)));

export interface Account {
  readonly id: number;
  readonly email: string;
  readonly name: string;
  readonly role: Role;
  readonly title: string;
  /** Absent where it is kept to nothing. */
  readonly scope?: Scope | undefined;
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
      why: `Your role, ${account.role}, does not include ${PERMISSIONS.get(action)?.words ?? action}.`,
    };
  if (object.owner !== undefined && object.owner !== account.id)
    return { allowed: false, why: `This ${object.kind} belongs to someone else.` };
  const outside = outsideScope(account, object);
  if (outside !== undefined) return { allowed: false, why: outside };
  return { allowed: true };
}

export function may({ role }: Pick<Account, 'role'>, action: Action): boolean {
  const roles = PERMISSIONS.get(action)?.roles;
  if (roles === undefined) return false;
  return roles === 'everyone' || role === 'officer' || roles.includes(role);
}
