import { z } from 'zod';
import { NewToken } from '../../../../core/accounts/programs/token.ts';
import { addToken, listTokens } from '../../../../server/accounts/programs/token.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** The tokens that act as oneself; everybody's for whoever sees programs. */
export const GET = endpoint({
  action: 'own-sessions',
  input: z.object({}),
  run: ({ ctx, account }) => listTokens(ctx.store, account),
});

/** Gives a program a token to act as oneself; it is told this once. */
export const POST = endpoint({
  action: 'tokens.edit',
  input: NewToken,
  run: ({ ctx, account, input }) => ctx.store.transaction((tx) => addToken(tx, ctx.now(), account, input)),
});
