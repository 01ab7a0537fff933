/** Roles that ship; what each may do is told by the areas, with their permissions. */
export const BUILT_IN_ROLES = [
  'officer',
  'site manager',
  'data steward',
  'records manager',
  'access reviewer',
  'request handler',
  'auditor',
] as const;
export type BuiltInRole = (typeof BUILT_IN_ROLES)[number];

export function isBuiltIn(id: string): id is BuiltInRole {
  return (BUILT_IN_ROLES as readonly string[]).includes(id);
}
