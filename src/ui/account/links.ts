export const ROLES = '/account/roles';

export function roleLink(id: string): string {
  return `${ROLES}/${encodeURIComponent(id)}`;
}

export function personLink(id: number): string {
  return `/account/${id}`;
}

export const PROGRAMS = '/account/programs';
export const INTERFACE = '/account/interface';

export function hookLink(id: number): string {
  return `${PROGRAMS}/hooks/${id}`;
}
