import { z } from 'zod';
import { attachment } from '../../../../server/http/attachment.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { XLSX } from '../../../../server/holdings/offers.ts';
import {
  scheduleCsv,
  scheduleJson,
  scheduleRecords,
  scheduleXlsx,
} from '../../../../server/retention/schedule/export-schedule.ts';

/** The schedule as a table; or what is in force, as the command line reads it. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({ as: z.enum(['csv', 'xlsx', 'json', 'rules', 'holds']) }),
  run: async ({ ctx, input }) => {
    switch (input.as) {
      case 'csv':
        return attachment('retention-schedule.csv', 'text/csv; charset=utf-8', await scheduleCsv(ctx));
      case 'xlsx':
        return attachment('retention-schedule.xlsx', XLSX, await scheduleXlsx(ctx));
      case 'json':
        return attachment('retention-schedule.json', 'application/json', await scheduleRecords(ctx));
      case 'rules':
      case 'holds':
        return attachment(
          `${input.as}.json`,
          'application/json',
          JSON.stringify((await scheduleJson(ctx))[input.as], null, 2),
        );
    }
  },
});
