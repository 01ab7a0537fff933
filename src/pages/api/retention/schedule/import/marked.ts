import { z } from 'zod';
import { attachment } from '../../../../../server/http/attachment.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { READING } from '../../../../../server/http/shares.ts';
import { XLSX } from '../../../../../server/holdings/offers.ts';
import {
  markedSchedule,
  ScheduleHeadings,
} from '../../../../../server/retention/schedule/import-schedule.ts';

/** A copy of a table that was sent, with every fault marked. */
export const POST = endpoint({
  action: 'retention.edit',
  input: z.object({ upload: z.int().positive(), headings: ScheduleHeadings }),
  run: ({ ctx, account, input }) =>
    READING.use(account.id, async () =>
      attachment(
        'schedule-marked.xlsx',
        XLSX,
        await markedSchedule(ctx, account.id, input.upload, input.headings),
      ),
    ),
});
