import { z } from 'zod';
import { listSessions, sessionId, sessionToken } from '../../../../server/accounts/session.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'own-sessions',
  input: z.object({}),
  run: async ({ ctx, account, request }) => {
    const current = sessionId(sessionToken(request));
    return (await listSessions(ctx, account.id)).map((s) => ({ ...s, current: s.id === current }));
  },
});
