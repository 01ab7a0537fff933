import type { CoreArea, Permission } from '../../area.ts';
import { AREAS } from '../../areas.ts';
import type { Action } from '../action.ts';
import type { BuiltInRole } from './built-in-role.ts';

/** By the name of what it allows; nothing else grants anything. */
export const PERMISSIONS: ReadonlyMap<string, Permission> = new Map<string, Permission>(
  AREAS.flatMap((a) => Object.entries(a.actions)),
);

/** What one may do in an area by a role; what everybody may do is in none. */
export interface AreaPermissions {
  readonly area: string;
  readonly actions: readonly Action[];
}

export const AREA_PERMISSIONS: readonly AreaPermissions[] = (AREAS as readonly CoreArea[])
  .map(({ area, actions }) => ({
    area,
    actions: Object.entries(actions).flatMap(([name, { roles }]) =>
      roles === 'everyone' ? [] : [name as Action],
    ),
  }))
  .filter((a) => a.actions.length > 0);

/** In the order of the areas. */
export const GIVEN_BY_ROLES: readonly Action[] = AREA_PERMISSIONS.flatMap((a) => a.actions);

/** As a sentence calls it: “seeing accounts”. */
export function permissionWords(action: string): string {
  return PERMISSIONS.get(action)?.words ?? action;
}

/** What a role that ships lets one do, besides what everybody may. */
export function builtInActions(role: BuiltInRole): readonly Action[] {
  return GIVEN_BY_ROLES.filter((action) => {
    const roles = PERMISSIONS.get(action)?.roles ?? [];
    return role === 'officer' || roles === 'everyone' || roles.includes(role);
  });
}
