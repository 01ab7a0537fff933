import { z } from 'zod';
import { mayHave } from '../../../../server/desk/make-report-job.ts';
import { listFiles } from '../../../../server/evidence/reports/report-files.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** What can be fetched, and what was, the newest first. */
export const GET = endpoint({
  action: 'reports.read',
  input: z.object({}),
  run: async ({ ctx, account }) =>
    (await listFiles(ctx.store, undefined, 200)).filter(
      (f) => f.state === 'ready' && mayHave(account, f.needs),
    ),
});
