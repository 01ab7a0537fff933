import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { READING } from '../../../../../server/http/shares.ts';
import { viewStoreTable } from '../../../../../server/holdings/listings/listing-table.ts';
import { listingObject } from '../../../../../server/holdings/listings/listings.ts';

/** What the columns of a table that was sent seem to be. */
export const POST = endpoint({
  action: 'holdings.sources',
  input: z.object({ id: z.coerce.number().int().positive(), upload: z.int().positive() }),
  object: listingObject,
  run: ({ ctx, account, input }) =>
    READING.use(account.id, () => viewStoreTable(ctx, account.id, input.upload, input.id)),
});
