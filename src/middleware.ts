import { randomUUID } from 'node:crypto';
import { defineMiddleware } from 'astro:middleware';
import { RefusedError } from './core/refusal.ts';
import { accountOf, SESSION_COOKIE } from './server/accounts/session.ts';
import { context } from './server/context.ts';
import { refusalResponse } from './server/http/endpoint.ts';
import { log } from './server/log.ts';

const OPEN = ['/sign-in', '/api/sign-in'];

/** Who asks, from where, and whether a writing request comes from the desk itself. */
export const onRequest = defineMiddleware(async (api, next) => {
  const { request, url, locals, cookies } = api;
  locals.requestId ??= randomUUID();
  locals.address ??= '';
  const isApi = url.pathname.startsWith('/api/');
  const theme = cookies.get('yare_theme')?.value;
  locals.theme = theme === 'light' || theme === 'dark' ? theme : 'system';
  if (request.method !== 'GET' && request.method !== 'HEAD' && !sameOrigin(request))
    return refusalResponse(
      new RefusedError('This request did not come from the desk.', [], 403),
      locals.requestId,
    );
  try {
    locals.account = await accountOf(context(), cookies.get(SESSION_COOKIE)?.value);
  } catch (error) {
    log.error({ requestId: locals.requestId, err: (error as Error).message }, 'could not read the session');
    if (isApi) return refusalResponse(error, locals.requestId);
    return new Response(unreachable(locals.requestId), {
      status: 503,
      headers: { 'content-type': 'text/html; charset=utf-8' },
    });
  }
  if (!locals.account && !isApi && !OPEN.includes(url.pathname) && url.pathname !== '/')
    return api.redirect(`/sign-in?to=${encodeURIComponent(url.pathname + url.search)}`);
  const response = await next();
  response.headers.set('x-request-id', locals.requestId);
  return response;
});

function sameOrigin(request: Request): boolean {
  const origin = request.headers.get('origin');
  if (!origin) return request.headers.get('sec-fetch-site') === 'same-origin';
  const { WEB_ORIGIN } = context().settings;
  return origin === WEB_ORIGIN || new URL(origin).host === request.headers.get('host');
}

function unreachable(requestId: string): string {
  return `<!doctype html><html lang="en"><title>Yare Warden cannot reach its database</title><body><h1>The database does not answer</h1><p>Nothing was lost. See that MariaDB runs, then reload this page.</p><p>Request ${requestId}</p></body></html>`;
}
