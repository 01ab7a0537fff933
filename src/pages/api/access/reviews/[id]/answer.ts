import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { RowId } from '../../../../../server/access/inputs.ts';
import { answerLines } from '../../../../../server/access/review/reviews.ts';

/** Says of lines whether they may stay. */
export const POST = endpoint({
  action: 'access.review',
  input: z.object({
    id: RowId,
    lines: z
      .array(z.strictObject({ n: z.int().nonnegative(), seen: z.enum(['keep', 'take']).nullable() }))
      .min(1)
      .max(1000),
    answer: z.enum(['keep', 'take']).nullable(),
    reason: z.string().trim().max(400).default(''),
  }),
  object: whole('estate'),
  run: ({ ctx, account, input: { id, ...answering } }) =>
    answerLines(ctx, id, answering, { account: account.id, address: account.email }),
});
