import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { READING } from '../../../../server/http/shares.ts';
import { whole } from '../../../../server/http/whole.ts';
import { sightStoreTable } from '../../../../server/holdings/listings/listing-table.ts';

/** What the columns of a table that was sent seem to be. */
export const POST = endpoint({
  action: 'holdings.sources',
  input: z.object({ upload: z.int().positive(), listing: z.int().positive().optional() }),
  object: whole('listing', ['source']),
  run: ({ ctx, account, input }) =>
    READING.use(account.id, () => sightStoreTable(ctx, account.id, input.upload, input.listing)),
});
