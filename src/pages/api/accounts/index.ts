import { z } from 'zod';
import { listAccounts } from '../../../server/accounts/account.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'accounts.read',
  input: z.object({}),
  run: ({ ctx }) => listAccounts(ctx.store, ctx.now()),
});
