import type { APIRoute } from 'astro';
import { ScimError } from '../../../core/accounts/sign-on/scim.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { keeperOf } from '../../../server/accounts/sign-on/keeping.ts';
import { answerScim, scimError, type ScimAnswer } from '../../../server/accounts/sign-on/scim/scim.ts';
import { context } from '../../../server/context.ts';
import { readBody } from '../../../server/http/endpoint.ts';
import { PerMinute } from '../../../server/http/per-minute.ts';
import { logFailure } from '../../../server/processes/failure-log.ts';

const WRONG = new PerMinute(30, 'Too many requests with a wrong token.');
const ASKED = new PerMinute(3000, 'This token asks too much. Wait a moment, then try again.');

/** SCIM 2.0 (RFC 7644), for the provider whose token it is. */
export const ALL: APIRoute = async ({ request, params, url, locals }) => {
  const ctx = context();
  try {
    const keeper = await keeperOf(ctx.store, ctx.now(), request.headers.get('authorization'));
    if (!keeper) {
      WRONG.count(locals.address, ctx.now().getTime());
      return send(scimError(new ScimError(401, 'Send a token that is in force: Authorization: Bearer ys_…')));
    }
    ASKED.countOne(String(keeper.id), ctx.now().getTime());
    const reads = request.method === 'GET' || request.method === 'DELETE';
    return send(
      await answerScim(
        ctx,
        { ...keeper, base: `${ctx.settings.WEB_ORIGIN}/scim/v2` },
        {
          ...{ method: request.method, path: (params['path'] ?? '').split('/').filter(Boolean) },
          query: Object.fromEntries(url.searchParams),
          body: reads ? {} : await readBody(request),
        },
      ),
    );
  } catch (error) {
    if (error instanceof RefusedError) return send(scimError(new ScimError(error.status, error.message)));
    logFailure('a provider was not answered', error, { requestId: locals.requestId });
    return send(scimError(new ScimError(500, 'Something went wrong on our side.')));
  }
};

function send({ status, body }: ScimAnswer): Response {
  const location = (body as { meta?: { location?: string } } | undefined)?.meta?.location;
  return new Response(body ? JSON.stringify(body) : null, {
    status,
    headers: {
      'content-type': 'application/scim+json; charset=utf-8',
      'cache-control': 'no-store',
      ...(location === undefined ? {} : { location }),
    },
  });
}
