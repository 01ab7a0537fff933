import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { RowId } from '../../../../../server/access/inputs.ts';
import { handOn } from '../../../../../server/access/review/reviews.ts';

/** Has somebody else asked about lines. */
export const POST = endpoint({
  action: 'access.review',
  input: z.object({
    id: RowId,
    lines: z.array(z.int().nonnegative()).min(1).max(1000),
    to: z.string().trim().max(254),
  }),
  object: whole('estate'),
  run: ({ ctx, account, input }) => handOn(ctx, input.id, input.lines, input.to, { account: account.id }),
});
