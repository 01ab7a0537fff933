import { z } from 'zod';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { listingObject } from '../../../../../../server/holdings/listings/listings.ts';
import { StoreIds, takeStores } from '../../../../../../server/holdings/listings/stores.ts';

/** Takes stores into the register. */
export const POST = endpoint({
  action: 'holdings.sources',
  input: z.object({
    id: z.coerce.number().int().positive(),
    ids: StoreIds,
    user: z.string().trim().max(200).default(''),
    secret: z.string().max(2000).default(''),
  }),
  object: listingObject,
  run: ({ ctx, account, input }) => takeStores(ctx, account.id, input.id, input),
});
