import { randomUUID } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { fileURLToPath } from 'node:url';
import sirv from 'sirv';
import { context } from '../context.ts';
import { clientAddress } from '../http/client-address.ts';
import { outgoingOf } from '../http/outgoing.ts';
import { log } from '../log.ts';
import { endOnSignal, requireMigrated, serve } from './process.ts';
import { logFailure } from './failure-log.ts';
import { cutSlowBody, guardedServer, surviveErrors } from './guarded-server.ts';
import { Health } from './health.ts';

type Handler = (
  request: IncomingMessage,
  response: ServerResponse,
  next: () => void,
  locals: object,
) => void | Promise<void>;

const METHODS = new Set(['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS']);
/** Parts of files come in requests of a megabyte, over slow lines too; all else is short. */
const PATIENCE = { headMs: 10_000, wholeMs: 60_000 };
const SHORT_BODY_MS = 10_000;

/** What the framework says goes the way of our own lines: a stranger can make it say a great deal. */
function quietConsole(): void {
  console.warn =
    console.info =
    console.log =
      (...said: unknown[]) => log.debug({ said: said.join(' ') }, 'said');
  console.error = (...said: unknown[]) => logFailure('the framework met an error', said[0]);
}

/** The desk: the built pages and endpoints behind our own server. */
export async function main(): Promise<void> {
  quietConsole();
  const ctx = context();
  await requireMigrated(ctx);
  const entry = new URL('./web/server/entry.mjs', import.meta.url);
  const { handler } = (await import(/* @vite-ignore */ entry.href)) as { handler: Handler };
  const files = sirv(fileURLToPath(new URL('./web/client', import.meta.url)), {
    setHeaders: (response, path) =>
      response.setHeader(
        'cache-control',
        path.startsWith('/_astro/') ? 'public, max-age=31536000, immutable' : 'no-cache',
      ),
  });
  const health = new Health(ctx.store);
  const server = guardedServer('web', PATIENCE, async (request, response) => {
    if (request.url === '/healthz') return health.answer(response);
    const requestId = randomUUID();
    const begun = Date.now();
    setSecurityHeaders(response);
    if (!request.url?.startsWith('/api/uploads/')) cutSlowBody(request, SHORT_BODY_MS);
    response.on('finish', () =>
      log.info(
        {
          requestId,
          method: request.method,
          path: request.url?.split('?')[0],
          status: response.statusCode,
          ms: Date.now() - begun,
        },
        'answered',
      ),
    );
    if (!METHODS.has(request.method ?? '')) return refuse(response, 405, 'The desk takes no such request.');
    // Files are small, and are sent whole.
    delete request.headers.range;
    let answered: void | Promise<void> = undefined;
    files(request, response, () => {
      answered = handler(
        request,
        response,
        () => refuse(response, 404, 'There is nothing at this address.'),
        {
          requestId,
          address: clientAddress(request, ctx.settings),
          outgoing: outgoingOf(response),
        },
      );
    });
    await answered;
  });
  await serve(server, ctx.settings.WEB_PORT, ctx.settings.HOST, 'WEB_PORT');
  surviveErrors('web');
  endOnSignal(async () => {
    server.close();
    server.closeAllConnections();
    await ctx.store.close();
  });
}

/** The content security policy is written by Astro, which knows the hashes of its own scripts. */
function setSecurityHeaders(response: ServerResponse): void {
  response.setHeader('x-content-type-options', 'nosniff');
  response.setHeader('referrer-policy', 'same-origin');
  response.setHeader('x-frame-options', 'DENY');
  response.setHeader('cross-origin-opener-policy', 'same-origin');
  response.setHeader('permissions-policy', 'camera=(), geolocation=(), microphone=()');
}

function refuse(response: ServerResponse, status: number, words: string): void {
  response.writeHead(status, { 'content-type': 'text/plain; charset=utf-8' });
  response.end(words);
}
