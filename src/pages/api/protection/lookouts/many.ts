import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { MANY_ACTS, moveLookouts } from '../../../../server/protection/lookouts/lookouts.ts';

/** Moves many lookouts at once; those that could not be are told. */
export const POST = endpoint({
  action: 'protection.watch',
  input: z.object({
    ids: z.array(z.string().min(1).max(64)).min(1, 'Choose some').max(200, 'At most 200 at once'),
    act: z.enum(MANY_ACTS),
  }),
  run: ({ ctx, account, input }) => moveLookouts(ctx, account.id, input.ids, input.act),
});
