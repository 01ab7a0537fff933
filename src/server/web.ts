import { randomUUID } from 'node:crypto';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { fileURLToPath } from 'node:url';
import sirv from 'sirv';
import { context } from './context.ts';
import { clientAddress } from './http/client-address.ts';
import { log } from './log.ts';
import { endOnSignal, requireMigrated, serve } from './process.ts';

type Handler = (request: IncomingMessage, response: ServerResponse, next: () => void, locals: object) => void;

/** The desk: the built pages and endpoints behind our own server. */
export async function main(): Promise<void> {
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
  const server = createServer((request, response) => {
    if (request.url === '/healthz') return void response.end('ok');
    const requestId = randomUUID();
    const begun = Date.now();
    setSecurityHeaders(response);
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
    files(request, response, () =>
      handler(request, response, () => notFound(response), {
        requestId,
        address: clientAddress(request, ctx.settings),
      }),
    );
  });
  await serve(server, ctx.settings.WEB_PORT, ctx.settings.HOST, 'WEB_PORT');
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

function notFound(response: ServerResponse): void {
  response.writeHead(404, { 'content-type': 'text/plain' });
  response.end('There is nothing at this address.');
}
