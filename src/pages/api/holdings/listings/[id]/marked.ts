import { z } from 'zod';
import { attachment } from '../../../../../server/http/attachment.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { READING } from '../../../../../server/http/shares.ts';
import { StoreHeadings, markedTable } from '../../../../../server/holdings/listings/listing-table.ts';
import { XLSX } from '../../../../../server/holdings/tables/sent-table.ts';
import { listingObject } from '../../../../../server/holdings/listings/listings.ts';

/** A copy of a table that was sent, with every fault marked. */
export const POST = endpoint({
  action: 'holdings.sources',
  input: z.object({
    id: z.coerce.number().int().positive(),
    upload: z.int().positive(),
    headings: StoreHeadings,
  }),
  object: listingObject,
  run: ({ ctx, account, input }) =>
    READING.use(account.id, async () =>
      attachment(
        'stores-marked.xlsx',
        XLSX,
        await markedTable(ctx, account.id, input.upload, input.headings),
      ),
    ),
});
