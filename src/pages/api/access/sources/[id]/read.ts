import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { RowId } from '../../../../../server/access/inputs.ts';
import { askForReading } from '../../../../../server/access/sources/reading-job.ts';

/** Has it read now. */
export const POST = endpoint({
  action: 'access.sources',
  input: z.object({ id: RowId }),
  object: whole('estate'),
  run: ({ ctx, account, input }) =>
    ctx.store.transaction((tx) => askForReading(tx, ctx, input.id, account.id)),
});
