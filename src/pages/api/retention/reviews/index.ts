import { z } from 'zod';
import { ReviewInput } from '../../../../core/retention/review/review.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { answerReview, listReviews } from '../../../../server/retention/review/reviews.ts';

/** Rules and bounds in force, by when somebody has to say again whether they stand. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({}),
  run: ({ ctx }) => listReviews(ctx.store, ctx.now()),
});

export const POST = endpoint({
  action: 'retention.edit',
  input: z.object({
    kind: z.enum(['retention rule', 'bound']),
    id: z.string().max(64),
    version: z.int().positive(),
    said: ReviewInput,
  }),
  object: whole('retention rule', ['source']),
  run: async ({ ctx, account, input: { said, ...of } }) => {
    await answerReview(ctx, account, of, said);
    return {};
  },
});
