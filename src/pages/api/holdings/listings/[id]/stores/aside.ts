import { z } from 'zod';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { listingObject } from '../../../../../../server/holdings/listings/listings.ts';
import { setAside, StoreIds } from '../../../../../../server/holdings/listings/stores.ts';

/** Sets stores aside with a reason; without one, takes that back. */
export const POST = endpoint({
  action: 'holdings.sources',
  input: z.object({
    id: z.coerce.number().int().positive(),
    ids: StoreIds,
    reason: z.string().trim().min(3, 'Say why.').max(400).nullable(),
  }),
  object: listingObject,
  run: ({ ctx, account, input }) => setAside(ctx, account.id, input.id, input.ids, input.reason),
});
