import { z } from 'zod';
import { sayWhy } from '../../../../../server/access/change/access-changes.ts';
import { RowId } from '../../../../../server/access/inputs.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';

/** Says why a draft may be done. */
export const PUT = endpoint({
  action: 'access.change',
  input: z.object({ id: RowId, reason: z.string().trim().max(1000) }),
  object: whole('estate'),
  run: ({ ctx, account, input }) => sayWhy(ctx, account.id, input.id, input.reason),
});
