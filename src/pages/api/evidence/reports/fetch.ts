import { z } from 'zod';
import { RefusedError } from '../../../../core/refusal.ts';
import { fetched } from '../../../../server/desk/fetched-report.ts';
import { mayHave } from '../../../../server/desk/make-report-job.ts';
import { findFile } from '../../../../server/evidence/reports/report-files.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { EXPORTING } from '../../../../server/http/shares.ts';

/** The bytes of a file, for whoever may see what it tells. */
export const GET = endpoint({
  action: 'reports.read',
  input: z.object({ file: z.coerce.number().int().positive() }),
  run: async ({ ctx, account, input, outgoing }) => {
    const file = await findFile(ctx.store, input.file);
    if (!mayHave(account, file.needs))
      throw new RefusedError('Your roles do not include all that this report tells.', [], 403);
    outgoing.whenOver(await EXPORTING.begin(account.id));
    return fetched(ctx, file, account.id);
  },
});
