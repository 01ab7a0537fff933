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

export const SIGN_ON = '/account/sign-on';

export function providerLink(id: number): string {
  return `${SIGN_ON}/${id}`;
}
