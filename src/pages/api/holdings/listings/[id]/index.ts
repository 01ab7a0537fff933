import { z } from 'zod';
import { ListingAddress } from '../../../../../core/holdings/listings/listing.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { ASKING } from '../../../../../server/http/shares.ts';
import {
  listingObject,
  moveListing,
  removeListing,
  viewListing,
} from '../../../../../server/holdings/listings/listings.ts';

const Id = z.object({ id: z.coerce.number().int().positive() });

export const GET = endpoint({
  action: 'holdings.read',
  input: Id,
  object: listingObject,
  run: ({ ctx, input }) => viewListing(ctx, input.id),
});

/** Without a key, the one it has stays. */
export const PUT = endpoint({
  action: 'holdings.sources',
  input: Id.extend({ address: ListingAddress, secret: z.string().max(2000).optional() }),
  object: listingObject,
  run: ({ ctx, account, input }) =>
    ASKING.use(account.id, () => moveListing(ctx, account.id, input.id, input.address, input.secret)),
});

export const DELETE = endpoint({
  action: 'holdings.sources',
  input: Id,
  object: listingObject,
  run: ({ ctx, account, input }) => removeListing(ctx, account.id, input.id),
});
