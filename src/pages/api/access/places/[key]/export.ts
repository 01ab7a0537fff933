import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { WhoInput } from '../../../../../server/access/inputs.ts';
import { exportPeople } from '../../../../../server/access/people-pages.ts';

/** All who reach a place, as a file. */
export const GET = endpoint({
  action: 'access.read',
  input: WhoInput.omit({ after: true, size: true }).extend({ as: z.enum(['csv', 'xlsx', 'pdf']) }),
  object: whole('estate'),
  run: ({ ctx, input }) => exportPeople(ctx, input),
});
