import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { ReachedInput } from '../../../../../server/access/inputs.ts';
import { exportReached } from '../../../../../server/access/people-pages.ts';

/** All that somebody reaches, as a file. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object({ ...ReachedInput, as: z.enum(['csv', 'xlsx', 'pdf']) }),
  object: whole('estate'),
  run: ({ ctx, input }) => exportReached(ctx, input),
});
