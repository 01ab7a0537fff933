import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { viewRuleOutlook } from '../../../../../server/protection/view/view-outlook.ts';

/** What the draft of a rule would change about what is kept. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object({ id: z.string().max(20), days: z.coerce.number().int().min(1).max(90).default(30) }),
  run: ({ ctx, input }) => viewRuleOutlook(ctx, input.id, input.days),
});
