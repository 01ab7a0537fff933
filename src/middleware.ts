import { randomUUID } from 'node:crypto';
import type { APIContext, MiddlewareNext } from 'astro';
import { defineMiddleware } from 'astro:middleware';
import { RefusedError } from './core/refusal.ts';
import { accountOfToken } from './server/accounts/programs/token.ts';
import { accountOf, SESSION_COOKIE } from './server/accounts/session.ts';
import { context } from './server/context.ts';
import { refusalResponse } from './server/http/endpoint.ts';
import { foreign } from './server/http/desk-origin.ts';
import { NO_CONNECTION } from './server/http/outgoing.ts';
import { PerMinute } from './server/http/per-minute.ts';
import { readLimited } from './server/http/read-limited.ts';
import { onceOnly } from './server/http/repeated-request.ts';
import { logFailure } from './server/processes/failure-log.ts';

const OPEN = ['/sign-in', '/report'];
/** For programs and providers, which have a token and no session. */
const INTERFACE = ['/interface/', '/scim/'];
/** What one person is asked, by a link of their own. */
const BY_LINK = [
  '/sign-on/',
  '/proposed/',
  '/letting-go/',
  '/held/',
  '/who-may-keep/',
  '/preferences/',
  '/ask/',
  '/request/',
  '/package/',
  '/vendor/',
  '/board/',
  '/report-file/',
];

/** Who asks, from where, and whether a writing request comes from the desk itself. */
export const onRequest = defineMiddleware(async (api, next) => {
  const { request, url, locals, cookies } = api;
  locals.requestId ??= randomUUID();
  locals.address ??= '';
  const isApi = url.pathname.startsWith('/api/');
  // A proxy in front may have a password of its own in that header.
  if (isApi && /^Bearer /i.test(request.headers.get('authorization') ?? '')) return byToken(api, next);
  if (INTERFACE.some((at) => url.pathname.startsWith(at))) {
    locals.outgoing ??= NO_CONNECTION;
    const answer = await next();
    answer.headers.set('x-request-id', locals.requestId);
    return answer;
  }
  const theme = cookies.get('yare_theme')?.value;
  locals.theme = theme === 'light' || theme === 'dark' ? theme : 'system';
  locals.outgoing ??= NO_CONNECTION;
  const reads = request.method === 'GET' || request.method === 'HEAD';
  const why = isApi || !reads ? foreign(request, context().settings) : undefined;
  if (why !== undefined) return refusalResponse(new RefusedError(why, [], 403), locals.requestId);
  try {
    locals.account = await accountOf(context(), cookies.get(SESSION_COOKIE)?.value);
  } catch (error) {
    logFailure('could not read the session', error, { requestId: locals.requestId });
    if (isApi) return refusalResponse(error, locals.requestId);
    return new Response(unreachable(locals.requestId), {
      status: 503,
      headers: { 'content-type': 'text/html; charset=utf-8' },
    });
  }
  const isOpen =
    OPEN.includes(url.pathname) ||
    BY_LINK.some((page) => url.pathname.startsWith(page)) ||
    url.pathname === '/';
  if (!locals.account && !isApi && !isOpen)
    return api.redirect(`/sign-in?to=${encodeURIComponent(url.pathname + url.search)}`);
  const response = await next();
  framePreviewOnly(response.headers);
  response.headers.set('x-request-id', locals.requestId);
  return response;
});

const MOST_REPEATED = 2 * 1024 * 1024;
const WRONG_TOKEN = new PerMinute(30, 'Too many requests with a wrong token.');
const TOKEN_ASKED = new PerMinute(1200, 'This token asks too much. Wait a moment, then try again.');

/** A program that acts as somebody, with a token in place of a session: no cookie is read, and no browser sends it unasked. */
async function byToken({ request, url, locals }: APIContext, next: MiddlewareNext): Promise<Response> {
  locals.theme = 'system';
  locals.outgoing ??= NO_CONNECTION;
  const { requestId } = locals;
  try {
    const ctx = context();
    const now = ctx.now();
    const account = await accountOfToken(ctx.store, now, request.headers.get('authorization')).catch(
      (error: unknown) => {
        if (error instanceof RefusedError) WRONG_TOKEN.count(locals.address, now.getTime());
        throw error;
      },
    );
    TOKEN_ASKED.countOne(String(account.token), now.getTime());
    locals.account = account;
    const key = request.headers.get('idempotency-key');
    const reads = request.method === 'GET' || request.method === 'HEAD';
    const answer =
      key === null || reads || account.token === undefined
        ? await next()
        : await onceOnly(
            ctx,
            {
              ...{ token: account.token, key, method: request.method, path: url.pathname + url.search },
              body: await bodyOf(request.clone()),
            },
            next,
          );
    answer.headers.set('x-request-id', requestId);
    return answer;
  } catch (error) {
    return refusalResponse(error, requestId);
  }
}

/** Of a request with a key: no more than endpoints take as JSON. */
function bodyOf(request: Request): Promise<Uint8Array> {
  return readLimited(
    request.body as AsyncIterable<Uint8Array> | null,
    request.headers.get('content-length'),
    MOST_REPEATED,
    'With an Idempotency-Key, send 2 MB at most.',
  );
}

/** Only the preview of a notice is framed, and it comes from the visitor service. */
function framePreviewOnly(headers: Headers): void {
  const policy = headers.get('content-security-policy');
  if (policy)
    headers.set(
      'content-security-policy',
      policy.replace('frame-src *', `frame-src ${new URL(context().settings.VISITOR_ORIGIN).origin}`),
    );
}

function unreachable(requestId: string): string {
  return `<!doctype html><html lang="en"><title>Yare Warden cannot reach its database</title><body><h1>The database does not answer</h1><p>Nothing was lost. See that MariaDB runs, then reload this page.</p><p>Request ${requestId}</p></body></html>`;
}
