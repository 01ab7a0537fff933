import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { READING } from '../../../../../server/http/shares.ts';
import {
  ActivityHeadings,
  importActivities,
} from '../../../../../server/holdings/records/activity-import.ts';

/** Takes records from a table that was sent, all or none; rehearsed, it only tells what it would do. */
export const POST = endpoint({
  action: 'holdings.records',
  input: z.object({
    upload: z.int().positive(),
    headings: ActivityHeadings,
    rehearse: z.boolean().default(false),
  }),
  run: ({ ctx, account, input }) => READING.use(account.id, () => importActivities(ctx, account.id, input)),
});
