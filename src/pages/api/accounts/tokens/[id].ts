import { z } from 'zod';
import { endToken } from '../../../../server/accounts/programs/token.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** The token opens nothing any more. */
export const DELETE = endpoint({
  action: 'own-sessions',
  input: z.object({ id: z.coerce.number().int().positive() }),
  run: ({ ctx, account, input }) => ctx.store.transaction((tx) => endToken(tx, ctx.now(), account, input.id)),
});
