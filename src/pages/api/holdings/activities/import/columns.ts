import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { READING } from '../../../../../server/http/shares.ts';
import { viewActivityTable } from '../../../../../server/holdings/records/activity-import.ts';

/** What the columns of a table that was sent seem to be. */
export const POST = endpoint({
  action: 'holdings.records',
  input: z.object({ upload: z.int().positive() }),
  run: ({ ctx, account, input }) =>
    READING.use(account.id, () => viewActivityTable(ctx, account.id, input.upload)),
});
