import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { levelOutlook } from '../../../server/protection/rules/level-outlook.ts';

/** What the rules in force have still to do; with a rule, what that would come to if its draft were in force now. */
export const GET = endpoint({
  action: 'protection.read',
  input: z.object({ rule: z.string().max(20).optional() }),
  run: ({ ctx, account, input }) => levelOutlook(ctx, account, input.rule),
});
