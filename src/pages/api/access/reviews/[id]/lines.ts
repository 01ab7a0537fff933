import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { RowId } from '../../../../../server/access/inputs.ts';
import { reviewLines } from '../../../../../server/access/review/reviews.ts';
import { PageSize } from '../../../../../server/store/page.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object({
    id: RowId,
    answer: z.enum(['open', 'keep', 'take']).optional(),
    owner: z.string().max(254).optional(),
    after: z.string().max(200).optional(),
    size: PageSize,
  }),
  object: whole('estate'),
  run: ({ ctx, input: { id, ...wish } }) => reviewLines(ctx, id, wish),
});
