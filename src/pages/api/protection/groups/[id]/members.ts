import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { takeMembers } from '../../../../../server/protection/handling/named-groups.ts';

/** Members from a CSV that was sent before. */
export const POST = endpoint({
  action: 'protection.edit',
  input: z.object({
    id: z.coerce.number().int().positive(),
    upload: z.int().positive(),
    beside: z.boolean(),
  }),
  run: ({ ctx, account, input: { id, ...how } }) => takeMembers(ctx, account.id, id, how),
});
