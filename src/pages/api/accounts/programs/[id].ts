import { z } from 'zod';
import { endProgram } from '../../../../server/accounts/programs/program.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** Its token opens nothing any more. */
export const DELETE = endpoint({
  action: 'programs.edit',
  input: z.object({ id: z.coerce.number().int() }),
  run: ({ ctx, account, input }) =>
    ctx.store.transaction((tx) => endProgram(tx, ctx.now(), account.id, input.id)),
});
