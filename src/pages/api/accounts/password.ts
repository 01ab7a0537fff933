import { z } from 'zod';
import { changePassword } from '../../../server/accounts/account-care.ts';
import { sessionId, sessionToken } from '../../../server/accounts/session.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

export const POST = endpoint({
  action: 'own-sessions',
  input: z.object({
    current: z.string().min(1, 'Type the one you sign in with now').max(500),
    next: z.string().min(1, 'Type a new password').max(500),
  }),
  run: ({ ctx, account, input, request, address }) =>
    changePassword(ctx, account, { ...input, session: sessionId(sessionToken(request)), address }),
});
