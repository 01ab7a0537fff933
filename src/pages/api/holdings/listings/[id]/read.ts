import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { listingObject } from '../../../../../server/holdings/listings/listings.ts';
import { queueReading } from '../../../../../server/holdings/listings/read-listing.ts';

/** Asks the account now. */
export const POST = endpoint({
  action: 'holdings.sources',
  input: z.object({ id: z.coerce.number().int().positive() }),
  object: listingObject,
  run: ({ ctx, account, input }) => queueReading(ctx, account.id, input.id),
});
