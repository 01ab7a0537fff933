import { z } from 'zod';
import { mayHave } from '../../../../../server/desk/make-report-job.ts';
import { listFiles } from '../../../../../server/evidence/reports/report-files.ts';
import { findReport, removeReport } from '../../../../../server/evidence/reports/reports.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

const Id = z.object({ id: z.coerce.number().int().positive() });

/** A report with what was made of it, of what the account may have. */
export const GET = endpoint({
  action: 'reports.read',
  input: Id,
  run: async ({ ctx, account, input: { id } }) => ({
    ...(await findReport(ctx.store, id)),
    files: (await listFiles(ctx.store, id)).filter((f) => mayHave(account, f.needs)),
  }),
});

export const DELETE = endpoint({
  action: 'reports.edit',
  input: Id,
  run: ({ ctx, account, input }) =>
    ctx.store.transaction((tx) => removeReport(tx, ctx.now(), account.id, input.id)),
});
