import { inject } from 'vitest';

/** The database of the tests that run here. */
export function ownDatabase(name = 'yare_1'): string {
  const url = new URL(inject('databaseUrl'));
  url.pathname = `/${name}`;
  return url.href;
}
