import type { APIRoute } from 'astro';
import { RefusedError } from '../../../core/refusal.ts';
import { context } from '../../../server/context.ts';
import { GUARDED, json, refusalResponse } from '../../../server/http/endpoint.ts';
import { personOfLink } from '../../../server/websites/preferences/person-link.ts';
import { recordLeaving } from '../../../server/websites/preferences/preference-intake.ts';

/** Where a mail program posts that somebody leaves (RFC 8058): by the token, without a page, and with nothing to confirm. */
export const POST: APIRoute = Object.assign(
  async ({ params, locals }: Parameters<APIRoute>[0]) => {
    try {
      const ctx = context();
      const person = await personOfLink(ctx, params['token'] ?? '');
      if (person === undefined) throw new RefusedError('This link is over, or was cut short.', [], 404);
      await recordLeaving(ctx, { person, by: 'one click', actor: 'visitor' });
      return json({ done: true });
    } catch (error) {
      return refusalResponse(error, locals.requestId);
    }
  },
  { [GUARDED]: true },
);

/** Opened by hand it shows the page; looking alone changes nothing. */
export const GET: APIRoute = Object.assign(
  ({ params, redirect }: Parameters<APIRoute>[0]) => redirect(`/preferences/${params['token'] ?? ''}`),
  { [GUARDED]: true },
);
