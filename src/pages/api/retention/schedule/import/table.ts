import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { READING } from '../../../../../server/http/shares.ts';
import {
  importSchedule,
  ScheduleHeadings,
} from '../../../../../server/retention/schedule/import-schedule.ts';

/** Takes rules from a table that was sent, as drafts; rehearsed, it only tells what it would do. */
export const POST = endpoint({
  action: 'retention.edit',
  input: z.object({
    upload: z.int().positive(),
    headings: ScheduleHeadings,
    rehearse: z.boolean().default(false),
  }),
  run: ({ ctx, account, input }) => READING.use(account.id, () => importSchedule(ctx, account.id, input)),
});
