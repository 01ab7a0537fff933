import { z } from 'zod';
import { peopleWho } from '../../../../../server/accounts/account-names.ts';
import { knownFigure } from '../../../../../server/desk/figures.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** Who could look after a figure: whoever may see what it counts. */
export const GET = endpoint({
  action: 'figures.aim',
  input: z.object({ id: z.string().max(60) }),
  run: async ({ ctx, account, input }) =>
    (await peopleWho(ctx.store, knownFigure(account, input.id).see))
      .filter((p) => p.able)
      .map(({ id, name }) => ({ id, name })),
});
