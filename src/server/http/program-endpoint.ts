import type { APIRoute } from 'astro';
import { z } from 'zod';
import { RefusedError } from '../../core/refusal.ts';
import { programOf, type Program, type ProgramScope } from '../accounts/programs/program.ts';
import { context, type Context } from '../context.ts';
import { GUARDED, json, refusalResponse } from './endpoint.ts';
import { PerMinute } from './per-minute.ts';
import { readLimited } from './read-limited.ts';

interface AskedByProgram<T> {
  readonly ctx: Context;
  readonly program: Program;
  readonly input: T;
  /** The bytes that were sent; empty where none were. */
  readonly body: Uint8Array;
}

interface Definition<T extends z.ZodType> {
  readonly scope: ProgramScope;
  /** Of the query string. */
  readonly input: T;
  readonly run: (asked: AskedByProgram<z.infer<T>>) => Promise<unknown>;
}

export const MOST_SENT = 50e6;
/** Wrong tokens from one network, and questions of one program, in a minute. */
const WRONG = new PerMinute(30, 'Too many requests with a wrong token.');
const ASKED = new PerMinute(1200, 'This program asks too much. Wait a moment, then try again.');

/**
 * The one way to make an endpoint for programs: a token says which one asks, what it asks stands in the query string,
 * what it sends is the body. A Response or a value that is sent as JSON comes back; refusals have the shape that the
 * desk's have.
 */
export function programEndpoint<T extends z.ZodType>({ scope, input, run }: Definition<T>): APIRoute {
  const route: APIRoute = async ({ request, url, locals }) => {
    try {
      const ctx = context();
      const program = await known(ctx, request, scope, locals.address);
      ASKED.countOne(String(program.id), ctx.now().getTime());
      const body = await readLimited(
        request.body as AsyncIterable<Uint8Array> | null,
        request.headers.get('content-length'),
        MOST_SENT,
        `That is more than ${MOST_SENT / 1e6} MB.`,
      );
      const result = await run({
        ctx,
        program,
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

async function known(ctx: Context, request: Request, scope: ProgramScope, address: string): Promise<Program> {
  try {
    return await programOf(ctx.store, ctx.now(), request.headers.get('authorization'), scope);
  } catch (error) {
    if (error instanceof RefusedError && error.status === 401) WRONG.count(address, ctx.now().getTime());
    throw error;
  }
}
