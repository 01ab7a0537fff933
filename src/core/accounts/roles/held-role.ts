import type { Action } from '../action.ts';
import type { BuiltInRole } from './built-in-role.ts';
import { builtInActions } from './permissions.ts';

/** A role that somebody holds, with what it lets them do now. */
export interface HeldRole {
  /** The name of one that ships, the number of one of the organisation's own. */
  readonly id: string;
  readonly name: string;
  /** Empty where an own one is not in force. */
  readonly actions: readonly Action[];
}

export interface Holder {
  readonly roles: readonly HeldRole[];
  /** Set where a token holds them: it may do what it was given and nothing besides. */
  readonly token?: number;
}

export function builtIn(role: BuiltInRole): HeldRole {
  return { id: role, name: role, actions: builtInActions(role) };
}

/** “records manager, access reviewer”. */
export function roleWords({ roles }: { readonly roles: readonly { readonly name: string }[] }): string {
  return roles.map((r) => r.name).join(', ') || 'no role';
}

/** Who may do everything, and answers for all of it. */
export function isOfficer({ roles }: { readonly roles: readonly Pick<HeldRole, 'id'>[] }): boolean {
  return roles.some((r) => r.id === ('officer' satisfies BuiltInRole));
}
