import { z } from 'zod';
import { endSession, SESSION_COOKIE, sessionId } from '../../server/accounts/session.ts';
import { endpoint } from '../../server/http/endpoint.ts';

export const POST = endpoint({
  action: 'own-sessions',
  input: z.object({}),
  run: async ({ ctx, account, request }) => {
    const token =
      new RegExp(`(?:^|; )${SESSION_COOKIE}=([^;]+)`).exec(request.headers.get('cookie') ?? '')?.[1] ?? '';
    await endSession(ctx, account, sessionId(token));
    return new Response('{"done":true}', {
      headers: {
        'content-type': 'application/json',
        'set-cookie': `${SESSION_COOKIE}=; Max-Age=0; Path=/; HttpOnly; SameSite=Lax`,
      },
    });
  },
});
