import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { removeLens } from '../../../../server/holdings/lenses/lenses.ts';

export const DELETE = endpoint({
  action: 'holdings.judge',
  input: z.object({ id: z.coerce.number().int().positive() }),
  object: (_ctx, { id }) => ({ kind: 'lens', id: String(id) }),
  run: ({ ctx, account, input }) =>
    ctx.store.transaction((tx) => removeLens(tx, ctx.now(), account.id, input.id)),
});
