import { z } from 'zod';
import { STORE_LIST } from '../../../../../../core/holdings/listings/listing-list.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { listingObject } from '../../../../../../server/holdings/listings/listings.ts';
import { listStores } from '../../../../../../server/holdings/listings/stores.ts';
import { pageShape } from '../../../../../../server/lists/list-source.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ id: z.coerce.number().int().positive(), ...pageShape(STORE_LIST) }),
  object: listingObject,
  run: ({ ctx, input }) => listStores(ctx, input.id, input, input.after, input.size),
});
