import { z } from 'zod';
import { ACTIVITY_FIELDS, activityRow } from '../../../../core/holdings/records/activity-table.ts';
import { dpvDocument } from '../../../../core/holdings/records/dpv.ts';
import { attachment } from '../../../../server/http/attachment.ts';
import { csvLine } from '../../../../server/http/csv.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../../server/http/shares.ts';
import { allActivities, recordNames } from '../../../../server/holdings/records/activities.ts';
import { checkRecords } from '../../../../server/holdings/records/record-check.ts';
import { recordsPdf } from '../../../../server/holdings/records/records-pdf.ts';
import { workbook, XLSX } from '../../../../server/holdings/tables/sent-table.ts';
import { outsideScope } from '../../../../core/accounts/scope.ts';

const NAME = 'records-of-processing';

/** All records: as a table, a document, or JSON-LD of the Data Privacy Vocabulary. */
export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ format: z.enum(['csv', 'xlsx', 'pdf', 'dpv']).default('csv') }),
  run: ({ ctx, account, input }) =>
    EXPORTING.use(account.id, async () => {
      const [activities, names] = await Promise.all([allActivities(ctx.store), recordNames(ctx.store)]);
      const head = Object.values(ACTIVITY_FIELDS).map((f) => f.words);
      const rows = activities.map((a) => activityRow(a.content, names));
      switch (input.format) {
        case 'csv':
          return attachment(
            `${NAME}.csv`,
            'text/csv; charset=utf-8',
            [head, ...rows].map((r) => csvLine(r)).join(''),
          );
        case 'xlsx':
          return attachment(`${NAME}.xlsx`, XLSX, await workbook('Records of processing', head, rows));
        case 'pdf': {
          // What was found everywhere is for those who may see all sources.
          const whole = { kind: 'activity', wholeOf: ['source'] };
          const found = outsideScope(account, whole) === undefined ? await checkRecords(ctx) : [];
          return attachment(
            `${NAME}.pdf`,
            'application/pdf',
            await recordsPdf(activities, found, names, ctx.now()),
          );
        }
        case 'dpv':
          return attachment(
            `${NAME}.jsonld`,
            'application/ld+json',
            JSON.stringify(
              dpvDocument(activities, (d) => names.detectors.get(d) ?? d),
              null,
              2,
            ),
          );
      }
    }),
});
