import { z } from 'zod';
import { initiators } from '../../../../server/access/history/access-events.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';

/** Who gave and took away, the most first. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object({}),
  object: whole('estate'),
  run: ({ ctx }) => initiators(ctx.store),
});
