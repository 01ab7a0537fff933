import type { APIRoute } from 'astro';
import { z } from 'zod';
import { SESSION_COOKIE, signIn } from '../../server/accounts/session.ts';
import { context } from '../../server/context.ts';
import { json, refusalResponse } from '../../server/http/endpoint.ts';

const Input = z.object({
  email: z.string().min(3, 'Type your e-mail').max(190),
  password: z.string().min(1, 'Type your password').max(500),
});

/** The one writing endpoint that nobody has to be signed in for. */
export const POST: APIRoute = async ({ request, cookies, locals, url }) => {
  try {
    const input = Input.parse(await request.json().catch(() => ({})));
    const { token } = await signIn(context(), {
      ...input,
      address: locals.address,
      userAgent: request.headers.get('user-agent') ?? '',
    });
    const secure = url.protocol === 'https:' || context().settings.WEB_ORIGIN.startsWith('https:');
    cookies.set(SESSION_COOKIE, token, {
      httpOnly: true,
      sameSite: 'lax',
      path: '/',
      secure,
      maxAge: 7 * 24 * 3600,
    });
    return json({ done: true });
  } catch (error) {
    return refusalResponse(error, locals.requestId);
  }
};
