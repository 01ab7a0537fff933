import { z } from 'zod';
import { listAccounts } from '../../../server/accounts/account.ts';
import { openSince } from '../../../server/accounts/session.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'accounts.read',
  input: z.object({}),
  run: ({ ctx }) => listAccounts(ctx.store, openSince(ctx.now())),
});
