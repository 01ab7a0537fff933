import type { APIRoute } from 'astro';
import { RefusedError } from '../../core/refusal.ts';
import { context } from '../../server/context.ts';
import { fetched } from '../../server/desk/fetched-report.ts';
import { findFile } from '../../server/evidence/reports/report-files.ts';
import { refusalResponse } from '../../server/http/endpoint.ts';
import { PerMinute } from '../../server/http/per-minute.ts';
import { idOfToken } from '../../server/http/signed-link.ts';

const TRIES = new PerMinute(30, 'That is more than anybody fetches in a minute. Wait a little.');

/** A report for somebody without an account, by the address they were sent. */
export const GET: APIRoute = async ({ params, locals }) => {
  const ctx = context();
  try {
    TRIES.count(locals.address);
    const id = idOfToken(ctx, 'report', params['token'] ?? '');
    if (id === undefined) throw new RefusedError('This address is over, or was never one.', [], 404);
    const file = await findFile(ctx.store, id);
    return await fetched(ctx, file, 'system', locals.outgoing);
  } catch (error) {
    return refusalResponse(error, locals.requestId);
  }
};
