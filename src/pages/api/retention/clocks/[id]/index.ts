import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { removeClock } from '../../../../../server/retention/clocks/clocks.ts';

export const DELETE = endpoint({
  action: 'retention.edit',
  input: z.object({ id: z.coerce.number().int().positive() }),
  object: (_ctx, { id }) => ({ kind: 'clock', id, wholeOf: ['source'] }),
  run: ({ ctx, account, input }) =>
    ctx.store.transaction((tx) => removeClock(tx, ctx.now(), account.id, input.id)),
});
