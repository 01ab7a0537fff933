import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { listReviews, ReviewScope, startReview } from '../../../../server/access/review/reviews.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object({}),
  object: whole('estate'),
  run: ({ ctx }) => listReviews(ctx.store),
});

export const POST = endpoint({
  action: 'access.review',
  input: z.object({
    name: z.string().trim().min(1, 'Give it a name.').max(200),
    scope: ReviewScope,
    due: z.iso.date('Choose the last day to answer.'),
  }),
  object: whole('estate'),
  run: async ({ ctx, account, input }) => ({ id: await startReview(ctx, account, input) }),
});
