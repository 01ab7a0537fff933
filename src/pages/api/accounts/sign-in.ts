import type { APIRoute } from 'astro';
import { z } from 'zod';
import { truncateAddress } from '../../../core/address.ts';
import { DEVICE_COOKIE, DEVICE_MS, SESSION_COOKIE, signIn } from '../../../server/accounts/session.ts';
import { context } from '../../../server/context.ts';
import { json, readBody, refusalResponse } from '../../../server/http/endpoint.ts';
import { Share } from '../../../server/http/share.ts';

const Input = z.object({
  email: z.string().min(3, 'Type your e-mail').max(190),
  password: z.string().min(1, 'Type your password').max(500),
});

/** Each password that is tried takes 19 MiB and a core for a moment. */
const attempts = new Share('people sign in', { each: 4, all: 8, waiting: 40, waitMs: 5000 });

/** The one writing endpoint that nobody has to be signed in for. */
export const POST: APIRoute = async ({ request, cookies, locals, url }) => {
  try {
    const input = Input.parse(await readBody(request, 8192));
    const network = truncateAddress(locals.address) ?? 'unknown';
    const { token, device, others } = await attempts.use(network, () =>
      signIn(context(), {
        ...input,
        address: locals.address,
        userAgent: request.headers.get('user-agent') ?? '',
        device: cookies.get(DEVICE_COOKIE)?.value,
      }),
    );
    const secure = url.protocol === 'https:' || context().settings.WEB_ORIGIN.startsWith('https:');
    const kept = { httpOnly: true, sameSite: 'lax', path: '/', secure } as const;
    cookies.set(SESSION_COOKIE, token, { ...kept, maxAge: 7 * 24 * 3600 });
    cookies.set(DEVICE_COOKIE, device, { ...kept, path: '/api/accounts/sign-in', maxAge: DEVICE_MS / 1000 });
    return json({ others });
  } catch (error) {
    return refusalResponse(error, locals.requestId);
  }
};
