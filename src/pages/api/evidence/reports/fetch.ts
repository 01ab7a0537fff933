import { z } from 'zod';
import { RefusedError } from '../../../../core/refusal.ts';
import { fetched } from '../../../../server/desk/fetched-report.ts';
import { mayHave } from '../../../../server/desk/make-report-job.ts';
import { findFile } from '../../../../server/evidence/reports/report-files.ts';
import { ownReport } from '../../../../server/evidence/reports/reports.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../../server/http/shares.ts';
import { whole } from '../../../../server/http/whole.ts';

/** The bytes of a file, for whoever has the report and may see what it tells. */
export const GET = endpoint({
  action: 'reports.read',
  input: z.object({ file: z.coerce.number().int().positive() }),
  object: whole('report'),
  run: async ({ ctx, account, input, outgoing }) => {
    const file = await findFile(ctx.store, input.file);
    await ownReport(ctx.store, file.reportId, account, 'see');
    if (!mayHave(account, file.needs))
      throw new RefusedError('Your roles do not include all that this report tells.', [], 403);
    outgoing.whenOver(await EXPORTING.begin(account.id));
    return fetched(ctx, file, account.id, outgoing);
  },
});
