import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { Key } from '../../../../../server/access/inputs.ts';
import { watchPlace } from '../../../../../server/access/history/watches.ts';

/** For how many days changes at it and below are kept; 0 for none, null for as is said above it. */
export const PUT = endpoint({
  action: 'access.change',
  input: z.object({ key: Key, days: z.int().min(0).max(3650).nullable() }),
  object: whole('estate'),
  run: ({ ctx, account, input }) => watchPlace(ctx, account.id, input.key, input.days),
});
