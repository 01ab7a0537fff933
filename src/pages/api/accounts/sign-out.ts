import { z } from 'zod';
import { endSession, SESSION_COOKIE, sessionId, sessionToken } from '../../../server/accounts/session.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

export const POST = endpoint({
  action: 'own-sessions',
  input: z.object({}),
  run: async ({ ctx, account, request }) => {
    await endSession(ctx, account, sessionId(sessionToken(request)));
    return new Response('{"done":true}', {
      headers: {
        'content-type': 'application/json',
        'set-cookie': `${SESSION_COOKIE}=; Max-Age=0; Path=/; HttpOnly; SameSite=Lax`,
      },
    });
  },
});
