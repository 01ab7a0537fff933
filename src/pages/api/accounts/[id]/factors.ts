import { z } from 'zod';
import { findAccount } from '../../../../server/accounts/account.ts';
import { endSessionsOf } from '../../../../server/accounts/session.ts';
import { dropFactors } from '../../../../server/accounts/sign-in/factors.ts';
import { RefusedError } from '../../../../core/refusal.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** Takes all second factors of somebody away, who lost theirs, and ends their sessions. */
export const DELETE = endpoint({
  action: 'accounts.edit',
  input: z.object({ id: z.coerce.number().int() }),
  byPeople: true,
  run: ({ ctx, account, input }) =>
    ctx.store.transaction(async (tx) => {
      if (input.id === account.id)
        throw new RefusedError('Yours you take away yourself, one by one, in your own account.', [], 409);
      const found = await findAccount(tx, input.id, true);
      const taken = await dropFactors(tx, ctx, account.id, found.account);
      return { taken, ended: await endSessionsOf(tx, input.id) };
    }),
});
