import { randomUUID } from 'node:crypto';
import { defineMiddleware } from 'astro:middleware';
import { RefusedError } from './core/refusal.ts';
import { accountOf, SESSION_COOKIE } from './server/accounts/session.ts';
import { context } from './server/context.ts';
import { refusalResponse } from './server/http/endpoint.ts';
import { foreign } from './server/http/desk-origin.ts';
import { NO_CONNECTION } from './server/http/outgoing.ts';
import { logFailure } from './server/processes/failure-log.ts';

const OPEN = ['/sign-in', '/report', '/api/accounts/sign-in'];
/** For programs, which have a token and no session. */
const INTERFACE = '/interface/';
/** What one person is asked, by a link of their own. */
const BY_LINK = [
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
  if (url.pathname.startsWith(INTERFACE)) {
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
