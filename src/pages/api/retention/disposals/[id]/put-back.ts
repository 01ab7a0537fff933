import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { putBack } from '../../../../../server/retention/disposal/put-back.ts';
import { disposalObject } from '../../../../../server/retention/disposal/disposals.ts';

/** Puts what went back where it was, all of it or some, as long as it is kept. */
export const POST = endpoint({
  action: 'retention.dispose',
  input: z.object({
    id: z.string().regex(/^\d{1,18}$/),
    items: z.array(z.int().positive()).min(1).max(5000).optional(),
  }),
  object: disposalObject,
  run: ({ ctx, account, input: { id, items } }) => putBack(ctx, account, id, items),
});
