import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { READING } from '../../../../../server/http/shares.ts';
import { StoreHeadings, takeTable } from '../../../../../server/holdings/listings/listing-table.ts';
import { listingObject } from '../../../../../server/holdings/listings/listings.ts';

/** Takes a table that was sent as the listing's next reading, whole or not at all. */
export const POST = endpoint({
  action: 'holdings.sources',
  input: z.object({
    id: z.coerce.number().int().positive(),
    upload: z.int().positive(),
    headings: StoreHeadings,
  }),
  object: listingObject,
  run: ({ ctx, account, input }) =>
    READING.use(account.id, () => takeTable(ctx, account.id, input.id, input.upload, input.headings)),
});
