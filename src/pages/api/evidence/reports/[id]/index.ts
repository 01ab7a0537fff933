import { z } from 'zod';
import { may } from '../../../../../core/accounts/authority.ts';
import { mayHave } from '../../../../../server/desk/make-report-job.ts';
import { listFiles } from '../../../../../server/evidence/reports/report-files.ts';
import {
  addressesOf,
  mayHaveReport,
  ownReport,
  removeReport,
} from '../../../../../server/evidence/reports/reports.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';

const Id = z.object({ id: z.coerce.number().int().positive() });

/** A report with what was made of it, of what the account may have; addresses for those who may send to them. */
export const GET = endpoint({
  action: 'reports.read',
  input: Id,
  object: whole('report'),
  run: async ({ ctx, account, input: { id } }) => {
    const stored = await ownReport(ctx.store, id, account, 'see');
    const addresses = await addressesOf(ctx, id);
    return {
      ...stored,
      mayEdit: may(account, 'reports.edit') && mayHaveReport(account, stored, 'edit'),
      ...{ addresses: may(account, 'reports.send') ? addresses : null, sentTo: addresses.length },
      files: (await listFiles(ctx.store, id)).filter((f) => mayHave(account, f.needs)),
    };
  },
});

export const DELETE = endpoint({
  action: 'reports.edit',
  input: Id,
  object: whole('report'),
  run: async ({ ctx, account, input: { id } }) => {
    await ownReport(ctx.store, id, account, 'edit');
    await ctx.store.transaction((tx) => removeReport(tx, ctx.now(), account.id, id));
  },
});
