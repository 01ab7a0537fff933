export const ROLES = '/account/roles';

export function roleLink(id: string): string {
  return `${ROLES}/${encodeURIComponent(id)}`;
}

export function personLink(id: number): string {
  return `/account/${id}`;
}
