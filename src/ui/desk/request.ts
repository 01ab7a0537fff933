import type { Refusal } from '../../core/refusal.ts';

/** What the desk's endpoints answered when they did not do as asked. */
export class RequestError extends Error {
  constructor(
    readonly status: number,
    readonly refusal: Refusal,
  ) {
    super(refusal.error);
  }

  /** The message for a field, or for the first of several. */
  field(...names: readonly string[]): string | undefined {
    return this.refusal.fields.find((f) => names.includes(f.field))?.message;
  }
}

/** Asks an endpoint of the desk. Throws a RequestError; status 0 when nothing answered. */
export async function request<T>(
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  body?: unknown,
): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
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
  if (response.ok) return (await response.json()) as T;
  if (response.status === 401 && !path.startsWith('/api/accounts/sign-in'))
    location.assign(`/sign-in?to=${encodeURIComponent(location.pathname + location.search)}`);
  const refusal = (await response.json().catch(() => undefined)) as Refusal | undefined;
  throw new RequestError(
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
