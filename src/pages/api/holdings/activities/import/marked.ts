import { z } from 'zod';
import { attachment } from '../../../../../server/http/attachment.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { READING } from '../../../../../server/http/shares.ts';
import {
  ActivityHeadings,
  markedActivities,
} from '../../../../../server/holdings/records/activity-import.ts';
import { XLSX } from '../../../../../server/holdings/tables/sent-table.ts';

/** A copy of a table that was sent, with every fault marked. */
export const POST = endpoint({
  action: 'holdings.records',
  input: z.object({ upload: z.int().positive(), headings: ActivityHeadings }),
  run: ({ ctx, account, input }) =>
    READING.use(account.id, async () =>
      attachment(
        'records-marked.xlsx',
        XLSX,
        await markedActivities(ctx, account.id, input.upload, input.headings),
      ),
    ),
});
