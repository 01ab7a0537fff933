import { z } from 'zod';
import { LISTING_LIST } from '../../../../core/holdings/listings/listing-list.ts';
import { ListingAddress, ListingContent } from '../../../../core/holdings/listings/listing.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { ASKING } from '../../../../server/http/shares.ts';
import { whole } from '../../../../server/http/whole.ts';
import { addListing, listListings, tryListing } from '../../../../server/holdings/listings/listings.ts';
import { pageShape } from '../../../../server/lists/list-source.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object(pageShape(LISTING_LIST)),
  object: whole('listing', ['source']),
  run: ({ ctx, input }) => listListings(ctx, input, input.after, input.size),
});

export const POST = endpoint({
  action: 'holdings.sources',
  input: z.object({
    content: ListingContent,
    address: ListingAddress,
    secret: z.string().max(2000).default(''),
  }),
  object: whole('listing', ['source']),
  run: async ({ ctx, account, input }) => {
    await ASKING.use(account.id, () => tryListing(ctx, input.address, input.secret));
    return { id: await ctx.store.transaction((tx) => addListing(tx, ctx, account.id, input)) };
  },
});
