import { z } from 'zod';
import { attachment } from '../../../../server/http/attachment.ts';
import { csvLine } from '../../../../server/http/csv.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { knownTrackerTable } from '../../../../server/websites/library/known-tracker-file.ts';
import { allKnown } from '../../../../server/websites/library/known-trackers.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: z.object({}),
  run: async ({ ctx }) =>
    attachment(
      'known-trackers.csv',
      'text/csv; charset=utf-8',
      knownTrackerTable(await allKnown(ctx.store))
        .map(csvLine)
        .join(''),
    ),
});
