import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { RowId } from '../../../../../server/access/inputs.ts';
import { reviewCsv } from '../../../../../server/access/review/review-csv.ts';
import { streamed } from '../../../../../server/http/csv.ts';

/** Every line with what was said of it, by whom and when. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object({ id: RowId }),
  object: whole('estate'),
  run: ({ ctx, input, outgoing }) =>
    Promise.resolve(
      streamed('review-of-access.csv', 'text/csv; charset=utf-8', outgoing, reviewCsv(ctx, input.id)),
    ),
});
