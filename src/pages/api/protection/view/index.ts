import { z } from 'zod';
import { firstViewRule } from '../../../../core/protection/view/view-rule.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addViewRule, listViewRules } from '../../../../server/protection/view/view-rules.ts';

export const GET = endpoint({
  action: 'protection.activity',
  input: z.object({}),
  run: ({ ctx }) => listViewRules(ctx.store),
});

export const POST = endpoint({
  action: 'protection.watch',
  input: z.object({
    name: z.string().trim().min(1, 'Give it a name.').max(120),
    days: z.int().min(0, '0 days or more').max(3650, 'At most 3,650 days'),
  }),
  run: async ({ ctx, account, input: { name, days } }) => ({
    id: await ctx.store.transaction((tx) =>
      addViewRule(tx, ctx.now(), account.id, firstViewRule(name, days)),
    ),
  }),
});
