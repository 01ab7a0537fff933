import { z } from 'zod';
import { openSubject } from '../../../../../server/desk/report-subject.ts';
import { askReport } from '../../../../../server/evidence/reports/report-files.ts';
import { ownReport } from '../../../../../server/evidence/reports/reports.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';

/** Makes it now; whoever asks must be able to see what it tells. */
export const POST = endpoint({
  action: 'reports.edit',
  input: z.object({ id: z.coerce.number().int().positive() }),
  object: whole('report'),
  run: async ({ ctx, account, input: { id } }) => {
    const stored = await ownReport(ctx.store, id, account, 'edit');
    await openSubject(ctx, account, stored.report);
    return { file: await ctx.store.transaction((tx) => askReport(tx, ctx, stored, account.id)) };
  },
});
