import { z } from 'zod';
import { sourceNames } from '../../../../server/holdings/offers.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';

/** What is known to Holdings, whose rights could be read. */
export const GET = endpoint({
  action: 'access.sources',
  input: z.object({}),
  object: whole('estate'),
  run: ({ ctx }) => sourceNames(ctx.store),
});
