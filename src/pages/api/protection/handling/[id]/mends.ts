import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { mendsOf } from '../../../../../server/protection/handling/mends.ts';

/** What to change about the draft of a rule so that it is wrong less often. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object({ id: z.string().max(20), days: z.coerce.number().int().min(1).max(90).default(90) }),
  run: ({ ctx, input }) => mendsOf(ctx, input.id, input.days),
});
