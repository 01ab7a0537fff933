import { z } from 'zod';
import { endSession, sessionOwner } from '../../../../server/accounts/session.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const DELETE = endpoint({
  action: 'own-sessions',
  input: z.object({ id: z.string().regex(/^[0-9a-f]{64}$/, 'a session id') }),
  object: async (ctx, { id }, account) => ({
    kind: 'session',
    id,
    owner: (await sessionOwner(ctx, id)) ?? account.id,
  }),
  run: ({ ctx, account, input }) => endSession(ctx, account, input.id),
});
