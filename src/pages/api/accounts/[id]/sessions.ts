import { z } from 'zod';
import { accountObject } from '../../../../server/accounts/account-object.ts';
import { endAllSessions } from '../../../../server/accounts/account-care.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const DELETE = endpoint({
  action: 'accounts.edit',
  input: z.object({ id: z.coerce.number().int().positive().max(4_294_967_295) }),
  object: accountObject,
  run: ({ ctx, account, input }) => endAllSessions(ctx, account, input.id),
});
