import type { APIRoute } from 'astro';
import { z } from 'zod';
import { may } from '../../core/accounts/authority.ts';
import { RefusedError } from '../../core/refusal.ts';
import { beginSignOn } from '../../server/accounts/sign-on/oidc.ts';
import { keepRefusal } from '../../server/accounts/sign-on/refusal.ts';
import { context } from '../../server/context.ts';
import { PerMinute } from '../../server/http/per-minute.ts';
import { setStep } from '../../server/http/session-cookies.ts';
import { logFailure } from '../../server/processes/failure-log.ts';

const Input = z.object({
  provider: z.coerce.number().int().positive(),
  to: z.string().max(2000).catch(''),
  try: z.literal('yes').optional(),
});
const BEGUN = new PerMinute(60, 'Too many sign-ons from here. Wait a moment, then try again.');

/** Sends a browser to a provider, to come back to `/sign-on/back`. With `try`, it only tells what the provider says. */
export const GET: APIRoute = async ({ url, cookies, locals, redirect }) => {
  const ctx = context();
  try {
    BEGUN.count(locals.address, ctx.now().getTime());
    const input = Input.parse(Object.fromEntries(url.searchParams));
    const { account } = locals;
    const tries = input.try === 'yes' && account && may(account, 'accounts.edit') ? account.id : null;
    const begun = await beginSignOn(ctx, input.provider, { to: input.to, tries });
    setStep(cookies, url, ctx.settings, begun.step);
    return redirect(begun.url.href);
  } catch (error) {
    const known = error instanceof RefusedError;
    if (!known) logFailure('sign-on could not begin', error, { requestId: locals.requestId });
    const why = known ? error : new RefusedError('That address is not whole.');
    setStep(cookies, url, ctx.settings, await keepRefusal(ctx, why));
    return redirect('/sign-on/back');
  }
};
