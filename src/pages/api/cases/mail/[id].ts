import { z } from 'zod';
import { endMail } from '../../../../server/cases/requests/form/take-mail.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** Sets a letter aside: it asks nothing. */
export const DELETE = endpoint({
  action: 'cases.handle',
  input: z.object({ id: z.coerce.number().int().min(1) }),
  run: async ({ ctx, account, input }) => {
    await ctx.store.transaction((tx) => endMail(tx, ctx, input.id, account.id, null));
  },
});
