import type { APIContext, APIRoute } from 'astro';
import { z, ZodError } from 'zod';
import { authorize, type Account, type AuthorityObject } from '../../core/accounts/authority.ts';
import type { Action } from '../../core/accounts/action.ts';
import { fewChanges, type ChangedObject } from '../../core/desk/changed-object.ts';
import { RefusedError, type Refusal } from '../../core/refusal.ts';
import { noteUse } from '../accounts/roles/permission-use.ts';
import { context, type Context } from '../context.ts';
import { withChanges } from '../evidence/changes-made.ts';
import { logFailure } from '../processes/failure-log.ts';
import { isUnreachable } from '../store/pool.ts';
import type { Outgoing } from './outgoing.ts';
import { parseJson, readLimited } from './read-limited.ts';

export interface Asked<T> {
  readonly ctx: Context;
  readonly account: Account;
  readonly input: T;
  readonly request: Request;
  readonly params: Readonly<Record<string, string | undefined>>;
  /** Where it comes from. */
  readonly address: string;
  /** The connection that the answer goes out on. */
  readonly outgoing: Outgoing;
}

declare const ANSWER: unique symbol;

/** A route that knows what it answers with, for those who ask it. */
export type Endpoint<R> = APIRoute & { readonly [ANSWER]?: R };

/** What an endpoint answers with as JSON; one that only does something says that it is done. */
export type AnswerOf<E> = E extends Endpoint<infer R> ? Answered<Exclude<Awaited<R>, Response>> : never;
type Answered<R> = [R] extends [void | undefined] ? { readonly done: true } : R;

type PathParams = Readonly<Record<string, string>>;

/** What an endpoint asks for, to be told to programs. */
export interface Described {
  readonly action: Action | ((params: PathParams) => Action);
  readonly input: z.ZodType;
  readonly byPeople: boolean;
}

/** What `endpoint` was told, on what it made. */
export const DESCRIBED = Symbol.for('yare.described');

interface Definition<T extends z.ZodType, R> {
  /** Where it depends on the path, from the parameters of that. */
  readonly action: Action | ((params: PathParams) => Action);
  /** Query string for GET, JSON body for the rest; path parameters are joined in. */
  readonly input: T;
  /** A word that is a person's own, such as the second yes: programs are refused, and not told of it. */
  readonly byPeople?: boolean | ((input: z.infer<T>) => boolean);
  /** What it is done to; for things that belong to somebody, whose. */
  readonly object?: (
    ctx: Context,
    input: z.infer<T>,
    account: Account,
  ) => Promise<AuthorityObject & { owner?: number }> | (AuthorityObject & { owner?: number });
  readonly run: (asked: Asked<z.infer<T>>) => Promise<R>;
}

/** Marks what `endpoint` made, so that a test can find routes that were made otherwise. */
export const GUARDED = Symbol.for('yare.guarded');

/** What the asker itself changed, for views to read again. */
const CHANGED = 'x-changed';

function changedHeader(changed: readonly ChangedObject[]): string {
  return encodeURIComponent(JSON.stringify(fewChanges(changed, 20)));
}

const MOST_BODY = 2 * 1024 * 1024;

/**
 * The one way to make an endpoint of the desk: who asks, may they, what do they send, answer. `run` returns a Response
 * or a value that is sent as JSON.
 */
export function endpoint<T extends z.ZodType, R>(definition: Definition<T, R>): Endpoint<R> {
  const route: APIRoute = async (api) => {
    const { requestId, account } = api.locals;
    try {
      const ctx = context();
      const { action: needed } = definition;
      if (!account) throw new RefusedError('Sign in first.', [], 401);
      const any = { kind: 'any', id: null };
      const action = typeof needed === 'string' ? needed : needed(pathParams(api));
      refuse(authorize(account, action, any));
      const input = await readInput(api, definition.input);
      refuseProgram(account, definition.byPeople, input);
      if (definition.object) refuse(authorize(account, action, await definition.object(ctx, input, account)));
      await noteUse(ctx, account.id, action);
      const work = () =>
        definition.run({
          ctx,
          account,
          input,
          request: api.request,
          params: api.params,
          address: api.locals.address,
          outgoing: api.locals.outgoing,
        });
      const { result, changed } = await withChanges(work, account.token);
      if (result instanceof Response) return result;
      const answer = json(result ?? { done: true });
      if (changed.length > 0) answer.headers.set(CHANGED, changedHeader(changed));
      return answer;
    } catch (error) {
      return refusalResponse(error, requestId);
    }
  };
  const described: Described = {
    ...{ action: definition.action, input: definition.input },
    byPeople: definition.byPeople === true,
  };
  return Object.assign(route, { [GUARDED]: true, [DESCRIBED]: described });
}

export function json(value: unknown, status = 200): Response {
  return new Response(JSON.stringify(value), {
    status,
    headers: { 'content-type': 'application/json', 'cache-control': 'no-store' },
  });
}

/** The one shape of every refused or failed answer; what is no fault of the asker's is never told as one. */
export function refusalResponse(error: unknown, requestId: string): Response {
  if (error instanceof RefusedError) {
    const body: Refusal = {
      error: error.message,
      fields: error.fields,
      requestId,
      ...(error.detail === undefined ? {} : { detail: error.detail }),
    };
    const answer = json(body, error.status);
    const wait = z.object({ retryAfter: z.number() }).safeParse(error.detail);
    if (wait.success) answer.headers.set('retry-after', String(wait.data.retryAfter));
    return answer;
  }
  if (error instanceof ZodError)
    return json(
      { error: 'Some of this cannot be taken as it is.', fields: fieldErrors(error), requestId },
      400,
    );
  logFailure('request failed', error, { requestId });
  const away = isUnreachable(error);
  const body: Refusal = {
    error: away ? 'The database does not answer now.' : 'Something went wrong on our side.',
    fields: [],
    kept: away
      ? 'Nothing of this was changed. Try again in a moment; see that MariaDB runs if it goes on.'
      : 'Nothing of this was changed.',
    requestId,
  };
  return json(body, away ? 503 : 500);
}

export function fieldErrors(error: ZodError): Refusal['fields'] {
  return error.issues.map((i) => ({ field: i.path.join('.'), message: i.message }));
}

function refuseProgram<T>(
  { token }: Account,
  byPeople: boolean | ((input: T) => boolean) | undefined,
  input: T,
): void {
  const is = typeof byPeople === 'function' ? byPeople(input) : byPeople;
  if (token !== undefined && is)
    throw new RefusedError('This is a person’s own word: no program says it for them.', [], 403);
}

function refuse(verdict: ReturnType<typeof authorize>): void {
  if (!verdict.allowed) throw new RefusedError(verdict.why, [], 403);
}

async function readInput<T extends z.ZodType>(api: APIContext, schema: T): Promise<z.infer<T>> {
  const { request, url } = api;
  const reads = request.method === 'GET' || request.method === 'HEAD';
  const sent = reads ? Object.fromEntries(url.searchParams) : await readBody(request);
  return schema.parse({ ...sent, ...pathParams(api) });
}

function pathParams({ params }: APIContext): PathParams {
  return Object.fromEntries(
    Object.entries(params).flatMap(([k, v]) => (v === undefined ? [] : [[k, decoded(v)]])),
  );
}

/** Astro leaves reserved characters of a path parameter encoded, such as the colon before a port. */
function decoded(value: string): string {
  try {
    return decodeURIComponent(value);
  } catch {
    return value;
  }
}

/** A JSON object; throws a RefusedError for what is none, or more than `most` bytes. */
export async function readBody(request: Request, most = MOST_BODY): Promise<Record<string, unknown>> {
  const body = await readLimited(
    // Node's streams can be iterated; the types of browsers do not say so yet.
    request.body as AsyncIterable<Uint8Array> | null,
    request.headers.get('content-length'),
    most,
    `That is more than ${most >= 1e6 ? `${Math.round(most / 1e6)} MB` : `${most} bytes`}.`,
  );
  if (body.length === 0) return {};
  const value = parseJson(body);
  if (typeof value === 'object' && value !== null && !Array.isArray(value))
    return value as Record<string, unknown>;
  throw new RefusedError('Send a JSON object.', [{ field: '', message: 'The body is not a JSON object.' }]);
}
