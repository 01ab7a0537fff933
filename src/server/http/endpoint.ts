import type { APIContext, APIRoute } from 'astro';
import { ZodError, type z } from 'zod';
import { authorize, type Account, type Action, type AuthorityObject } from '../../core/accounts/authority.ts';
import { RefusedError, type Refusal } from '../../core/refusal.ts';
import { context, type Context } from '../context.ts';
import { log } from '../log.ts';

export interface Asked<T> {
  readonly ctx: Context;
  readonly account: Account;
  readonly input: T;
  readonly request: Request;
  readonly params: Readonly<Record<string, string | undefined>>;
}

interface Definition<T extends z.ZodType> {
  readonly action: Action;
  /** Query string for GET, JSON body for the rest; path parameters are joined in. */
  readonly input: T;
  /** What it is done to; for things that belong to somebody, whose. */
  readonly object?: (
    ctx: Context,
    input: z.infer<T>,
    account: Account,
  ) => Promise<AuthorityObject & { owner?: number }> | (AuthorityObject & { owner?: number });
  readonly run: (asked: Asked<z.infer<T>>) => Promise<unknown>;
}

/** Marks what `endpoint` made, so that a test can find routes that were made otherwise. */
export const GUARDED = Symbol.for('yare.guarded');

const MOST_BODY = 2 * 1024 * 1024;

/**
 * The one way to make an endpoint of the desk: who asks, may they, what do they send, answer. `run` returns a Response
 * or a value that is sent as JSON.
 */
export function endpoint<T extends z.ZodType>(definition: Definition<T>): APIRoute {
  const route: APIRoute = async (api) => {
    const { requestId, account } = api.locals;
    try {
      const ctx = context();
      refuse(authorize(account, definition.action, { kind: 'any', id: null }), account);
      const input = await readInput(api, definition.input);
      if (definition.object)
        refuse(
          authorize(account, definition.action, await definition.object(ctx, input, account as Account)),
          account,
        );
      const answer = await definition.run({
        ctx,
        account: account as Account,
        input,
        request: api.request,
        params: api.params,
      });
      return answer instanceof Response ? answer : json(answer ?? { done: true });
    } catch (error) {
      return refusalResponse(error, requestId);
    }
  };
  return Object.assign(route, { [GUARDED]: definition.action });
}

export function json(value: unknown, status = 200): Response {
  return new Response(JSON.stringify(value), {
    status,
    headers: { 'content-type': 'application/json', 'cache-control': 'no-store' },
  });
}

export function refusalResponse(error: unknown, requestId: string): Response {
  if (error instanceof RefusedError) {
    const body: Refusal = {
      error: error.message,
      fields: error.fields,
      requestId,
      ...(error.detail === undefined ? {} : { detail: error.detail }),
    };
    return json(body, error.status);
  }
  if (error instanceof ZodError)
    return json(
      { error: 'Some of this cannot be taken as it is.', fields: fieldErrors(error), requestId },
      400,
    );
  log.error({ requestId, err: (error as Error).message, stack: (error as Error).stack }, 'request failed');
  const body: Refusal = {
    error: 'Something went wrong on our side.',
    fields: [],
    kept: 'Nothing of this was changed.',
    requestId,
  };
  return json(body, 500);
}

export function fieldErrors(error: ZodError): Refusal['fields'] {
  return error.issues.map((i) => ({ field: i.path.join('.'), message: i.message }));
}

function refuse(verdict: ReturnType<typeof authorize>, account: Account | undefined): void {
  if (!verdict.allowed) throw new RefusedError(verdict.why, [], account ? 403 : 401);
}

async function readInput<T extends z.ZodType>(api: APIContext, schema: T): Promise<z.infer<T>> {
  const { request, params, url } = api;
  const sent = request.method === 'GET' ? Object.fromEntries(url.searchParams) : await readBody(request);
  const given = Object.fromEntries(
    Object.entries(params).flatMap(([k, v]) => (v === undefined ? [] : [[k, decoded(v)]])),
  );
  return schema.parse({ ...sent, ...given });
}

/** Astro leaves reserved characters of a path parameter encoded, such as the colon before a port. */
function decoded(value: string): string {
  try {
    return decodeURIComponent(value);
  } catch {
    return value;
  }
}

async function readBody(request: Request): Promise<Record<string, unknown>> {
  const length = Number(request.headers.get('content-length') ?? 0);
  if (length > MOST_BODY) throw new RefusedError('That is more than 2 MB.', [], 413);
  const text = await request.text();
  if (text === '') return {};
  if (text.length > MOST_BODY) throw new RefusedError('That is more than 2 MB.', [], 413);
  try {
    const value: unknown = JSON.parse(text);
    if (typeof value === 'object' && value !== null && !Array.isArray(value))
      return value as Record<string, unknown>;
  } catch {
    // Told below, as for any other body that is no object.
  }
  throw new RefusedError('Send a JSON object.', [{ field: '', message: 'The body is not a JSON object.' }]);
}
