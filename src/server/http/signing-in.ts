import type { APIContext, APIRoute } from 'astro';
import { z } from 'zod';
import { truncateAddress } from '../../core/address.ts';
import { DEVICE_COOKIE, type From } from '../accounts/session.ts';
import type { Next, SigningIn } from '../accounts/sign-in/sign-in.ts';
import { STEP_COOKIE } from '../accounts/sign-in/sign-in-step.ts';
import { context, type Context } from '../context.ts';
import { json, readBody, refusalResponse } from './endpoint.ts';
import { setSession, setStep } from './session-cookies.ts';
import { Share } from './share.ts';

/** Each password that is tried takes 19 MiB and a core for a moment. */
const attempts = new Share('people sign in', { each: 4, all: 8, waiting: 40, waitMs: 5000 });

interface Asked<T> {
  readonly ctx: Context;
  readonly input: T;
  /** What the browser shows of the step before. */
  readonly step: string | undefined;
  readonly from: From;
}

/** The browser that asks. */
export function fromOf({ request, cookies, locals }: APIContext): From {
  return {
    address: locals.address,
    userAgent: request.headers.get('user-agent') ?? '',
    device: cookies.get(DEVICE_COOKIE)?.value,
  };
}

/** The one way to make an endpoint that somebody asks who is about to sign in: for everybody, in turn. */
export function signInEndpoint<T extends z.ZodType>({
  input,
  run,
}: {
  readonly input: T;
  readonly run: (asked: Asked<z.infer<T>>, api: APIContext) => Promise<unknown>;
}): APIRoute {
  return async (api) => {
    const { request, cookies, locals } = api;
    try {
      const sent = input.parse(await readBody(request, 65_536));
      const network = truncateAddress(locals.address) ?? 'unknown';
      const asked = { ctx: context(), input: sent, step: cookies.get(STEP_COOKIE)?.value, from: fromOf(api) };
      return json(await attempts.use(network, () => run(asked, api)));
    } catch (error) {
      return refusalResponse(error, locals.requestId);
    }
  };
}

/** What a browser is told of a step, with the cookies for the next one or for the session. */
export function toldOf(
  { cookies, url }: APIContext,
  { settings }: Context,
  signing: SigningIn,
): { readonly others: number; readonly recovery?: readonly string[] } | Next {
  if ('next' in signing) {
    setStep(cookies, url, settings, signing.step);
    return signing.next;
  }
  setSession(cookies, url, settings, signing.signedIn);
  return { others: signing.signedIn.others, ...(signing.recovery ? { recovery: signing.recovery } : {}) };
}
