import type { APIRoute } from 'astro';
import { z } from 'zod';
import { RefusedError } from '../../core/refusal.ts';
import { programOf, type Program, type ProgramScope } from '../accounts/programs/program.ts';
import { context, type Context } from '../context.ts';
import { GUARDED, json, refusalResponse } from './endpoint.ts';
import { PerMinute } from './per-minute.ts';
import { readLimited } from './read-limited.ts';

interface AskedByToken<W, T> {
  readonly ctx: Context;
  readonly who: W;
  readonly input: T;
  /** The bytes that were sent; empty where none were. */
  readonly body: Uint8Array;
}

interface Definition<W, T extends z.ZodType> {
  /** Whose token it is. Throws a RefusedError (401, 403). */
  readonly who: (ctx: Context, authorization: string | null) => Promise<W>;
  /** What is limited together with nothing else. */
  readonly name: (who: W) => string;
  /** Of the query string. */
  readonly input: T;
  readonly run: (asked: AskedByToken<W, z.infer<T>>) => Promise<unknown>;
}

export const MOST_SENT = 50e6;
/** Wrong tokens from one network, and questions of one program or device, in a minute. */
const WRONG = new PerMinute(30, 'Too many requests with a wrong token.');
const ASKED = new PerMinute(1200, 'This token asks too much. Wait a moment, then try again.');

/**
 * The one way to make an endpoint that is opened by a token: what is asked stands in the query string, what is sent is the
 * body. A Response or a value that is sent as JSON comes back; refusals have the shape that the desk's have.
 */
export function tokenEndpoint<W, T extends z.ZodType>({ who, name, input, run }: Definition<W, T>): APIRoute {
  const route: APIRoute = async ({ request, url, locals }) => {
    try {
      const ctx = context();
      const known = await knownBy(ctx, request, who, locals.address);
      ASKED.countOne(name(known), ctx.now().getTime());
      const body = await readLimited(
        request.body as AsyncIterable<Uint8Array> | null,
        request.headers.get('content-length'),
        MOST_SENT,
        `That is more than ${MOST_SENT / 1e6} MB.`,
      );
      const result = await run({
        ctx,
        who: known,
        input: input.parse(Object.fromEntries(url.searchParams)),
        body: new Uint8Array(body),
      });
      return result instanceof Response ? result : json(result ?? { done: true });
    } catch (error) {
      return refusalResponse(error, locals.requestId);
    }
  };
  return Object.assign(route, { [GUARDED]: true });
}

async function knownBy<W>(
  ctx: Context,
  request: Request,
  who: Definition<W, z.ZodType>['who'],
  address: string,
): Promise<W> {
  try {
    return await who(ctx, request.headers.get('authorization'));
  } catch (error) {
    if (error instanceof RefusedError && error.status === 401) WRONG.count(address, ctx.now().getTime());
    throw error;
  }
}

/** For programs that have a token for one interface. */
export function programEndpoint<T extends z.ZodType>({
  scope,
  input,
  run,
}: {
  readonly scope: ProgramScope;
  readonly input: T;
  readonly run: (
    asked: Omit<AskedByToken<Program, z.infer<T>>, 'who'> & { readonly program: Program },
  ) => Promise<unknown>;
}): APIRoute {
  return tokenEndpoint({
    who: (ctx, authorization) => programOf(ctx.store, ctx.now(), authorization, scope),
    name: ({ id }) => String(id),
    input,
    run: ({ who, ...asked }) => run({ ...asked, program: who }),
  });
}
