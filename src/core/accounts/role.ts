export const ROLES = [
  'officer',
  'site manager',
  'data steward',
  'records manager',
  'access reviewer',
  'request handler',
  'auditor',
] as const;
export type Role = (typeof ROLES)[number];
