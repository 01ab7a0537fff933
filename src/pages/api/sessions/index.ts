import { z } from 'zod';
import { listSessions, SESSION_COOKIE, sessionId } from '../../../server/accounts/session.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'own-sessions',
  input: z.object({}),
  run: async ({ ctx, account, request }) => {
    const token =
      new RegExp(`(?:^|; )${SESSION_COOKIE}=([^;]+)`).exec(request.headers.get('cookie') ?? '')?.[1] ?? '';
    const current = sessionId(token);
    return (await listSessions(ctx, account)).map((s) => ({ ...s, current: s.id === current }));
  },
});
