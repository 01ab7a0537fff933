import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { handlingOutlook } from '../../../../../server/protection/handling/handling-outlook.ts';

/** What the draft of a rule would have done over the last days. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object({ id: z.string().max(20), days: z.coerce.number().int().min(1).max(90).default(30) }),
  run: ({ ctx, input }) => handlingOutlook(ctx, input.id, input.days),
});
