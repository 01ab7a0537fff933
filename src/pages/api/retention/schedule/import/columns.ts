import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { READING } from '../../../../../server/http/shares.ts';
import { viewScheduleTable } from '../../../../../server/retention/schedule/import-schedule.ts';

/** What the columns of a table that was sent seem to be. */
export const POST = endpoint({
  action: 'retention.edit',
  input: z.object({ upload: z.int().positive() }),
  run: ({ ctx, account, input }) =>
    READING.use(account.id, () => viewScheduleTable(ctx, account.id, input.upload)),
});
