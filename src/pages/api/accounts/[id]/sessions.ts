import { z } from 'zod';
import { endAllSessions } from '../../../../server/accounts/account-care.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const DELETE = endpoint({
  action: 'accounts.edit',
  input: z.object({ id: z.coerce.number().int().positive().max(4_294_967_295) }),
  object: (_ctx, { id }) => ({ kind: 'account', id }),
  run: ({ ctx, account, input }) => endAllSessions(ctx, account, input.id),
});
