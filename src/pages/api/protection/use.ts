import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { useOfRules } from '../../../server/protection/use/use-of-rules.ts';

/** How rules were met over the last days. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object({ days: z.coerce.number().int().min(1).max(365).default(30) }),
  run: ({ ctx, input }) => useOfRules(ctx, input.days),
});
