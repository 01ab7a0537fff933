import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { orderLevels } from '../../../../server/protection/levels/levels.ts';

/** Says which levels are stronger. */
export const POST = endpoint({
  action: 'protection.put-in-force',
  input: z.object({ strongestFirst: z.array(z.string().max(64)).max(200) }),
  object: whole('level'),
  run: ({ ctx, account, input }) =>
    ctx.store.transaction((tx) => orderLevels(tx, ctx.now(), account.id, input.strongestFirst)),
});
