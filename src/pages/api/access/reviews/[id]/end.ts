import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { RowId } from '../../../../../server/access/inputs.ts';
import { endReview } from '../../../../../server/access/review/reviews.ts';

/** Ends it; what is to go becomes a change. */
export const POST = endpoint({
  action: 'access.review',
  input: z.object({ id: RowId }),
  object: whole('estate'),
  run: async ({ ctx, account, input }) => ({ change: await endReview(ctx, account.id, input.id) }),
});
