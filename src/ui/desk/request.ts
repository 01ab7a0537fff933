import type { ChangedObject } from '../../core/desk/changed-object.ts';
import type { Refusal } from '../../core/refusal.ts';
import { readAgain, readAllAgain } from './changed.ts';
import { RequestError } from './request-error.ts';

export { RequestError };

/** Asks an endpoint of the desk; `keepalive` outlives the page. Throws a RequestError; status 0 when nothing answered. */
export async function request<T>(
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  body?: unknown,
  { keepalive = false }: { readonly keepalive?: boolean } = {},
): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      keepalive,
      ...(body === undefined
        ? {}
        : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
  } catch {
    throw new RequestError(0, {
      error: 'The desk’s server does not answer.',
      fields: [],
      kept: 'What you see is still here; nothing was sent twice.',
    });
  }
  if (response.ok) {
    const changed = response.headers.get('x-changed');
    if (changed) readAgain(JSON.parse(decodeURIComponent(changed)) as ChangedObject[], true);
    return (await response.json()) as T;
  }
  // What is shown was not what is.
  if (method !== 'GET' && (response.status === 404 || response.status === 409)) readAllAgain();
  throw await requestError(response, path);
}

/** What an endpoint refused; who is not signed in any more is led to do that. */
export async function requestError(response: Response, path: string): Promise<RequestError> {
  if (response.status === 401 && !path.startsWith('/api/accounts/sign-in'))
    location.assign(`/sign-in?to=${encodeURIComponent(location.pathname + location.search)}`);
  const refusal = (await response.json().catch(() => undefined)) as Refusal | undefined;
  return new RequestError(
    response.status,
    refusal ?? { error: `The server answered ${response.status}.`, fields: [] },
  );
}

/** A query string of what is set. */
export function queryString(values: Readonly<Record<string, string | number | undefined | null>>): string {
  const set = Object.entries(values).filter(
    (e): e is [string, string | number] => e[1] !== undefined && e[1] !== null && e[1] !== '',
  );
  return set.length ? `?${new URLSearchParams(set.map(([k, v]) => [k, String(v)])).toString()}` : '';
}
