import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { RowId } from '../../../../../server/access/inputs.ts';
import { viewReview } from '../../../../../server/access/review/reviews.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object({ id: RowId }),
  object: whole('estate'),
  run: ({ ctx, input }) => viewReview(ctx.store, input.id),
});
