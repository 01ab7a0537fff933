import type { ProviderContent } from './provider.ts';

type Mapping = ProviderContent['groups'];

/** A role, and the groups that give it. */
export interface ToldRole {
  readonly role: string;
  readonly groups: readonly string[];
}

/** Which roles somebody's groups give, each with the groups that do. */
export function rolesOfGroups(mapping: Mapping, groups: readonly string[]): readonly ToldRole[] {
  const given = new Map<string, string[]>();
  for (const [group, roles] of Object.entries(mapping))
    if (groups.includes(group))
      for (const role of roles) given.set(role, [...(given.get(role) ?? []), group]);
  return [...given].map(([role, by]) => ({ role, groups: by }));
}

export interface HeldByGroups {
  readonly role: string;
  readonly byGroups: boolean;
}

/** What stands in the way of a role that groups give. */
export type Refused = { readonly role: string; readonly why: 'not in force' | 'kept to a part' };

export interface RoleChange {
  readonly give: readonly string[];
  readonly take: readonly string[];
  readonly refused: readonly Refused[];
}

/**
 * What has to change for somebody to hold what their groups give, besides what was given by hand, which stays. Roles that are not
 * in force are not given; nobody who is kept to a part becomes an officer.
 */
export function roleChange(
  held: readonly HeldByGroups[],
  told: readonly string[],
  { inForce, isKept }: { readonly inForce: ReadonlySet<string>; readonly isKept: boolean },
): RoleChange {
  const refused = told.flatMap((role): readonly Refused[] => {
    if (!inForce.has(role)) return [{ role, why: 'not in force' }];
    return role === 'officer' && isKept ? [{ role, why: 'kept to a part' }] : [];
  });
  const given = told.filter((role) => !refused.some((r) => r.role === role));
  return {
    give: given.filter((role) => !held.some((h) => h.role === role)),
    take: held.filter((h) => h.byGroups && !given.includes(h.role)).map((h) => h.role),
    refused,
  };
}
