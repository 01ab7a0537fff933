import { z } from 'zod';
import { HandsRule } from '../../../../core/access/hands/hands-rule.ts';
import { addHandsRule, viewHands } from '../../../../server/access/hands/hands-rules.ts';
import { askAccess } from '../../../../server/access/index/ask-access.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';

/** What nobody may have together, and who has it now. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object({}),
  object: whole('estate'),
  run: ({ ctx }) => viewHands(ctx),
});

/** Groups and places by what they are called in addresses. */
export const POST = endpoint({
  action: 'access.change',
  input: HandsRule,
  object: whole('estate'),
  run: async ({ ctx, account, input: { name, one, other } }) => ({
    id: await addHandsRule(ctx, account.id, {
      name,
      one: await askAccess(ctx, 'hands side', { side: one }),
      other: await askAccess(ctx, 'hands side', { side: other }),
    }),
  }),
});
