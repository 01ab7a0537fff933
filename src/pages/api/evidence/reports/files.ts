import { z } from 'zod';
import { mayHave } from '../../../../server/desk/make-report-job.ts';
import { listFiles } from '../../../../server/evidence/reports/report-files.ts';
import { listReports, mayHaveReport } from '../../../../server/evidence/reports/reports.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';

/** What can be fetched, and what was, the newest first. */
export const GET = endpoint({
  action: 'reports.read',
  input: z.object({}),
  object: whole('report'),
  run: async ({ ctx, account }) => {
    const known = new Set(
      (await listReports(ctx.store)).filter((r) => mayHaveReport(account, r, 'see')).map((r) => r.id),
    );
    return (await listFiles(ctx.store, undefined, 200)).filter(
      (f) => f.state === 'ready' && known.has(f.reportId) && mayHave(account, f.needs),
    );
  },
});
