import { z } from 'zod';
import { firstHandlingRule } from '../../../../core/protection/handling/handling-rule.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addHandlingRule, listHandlingRules } from '../../../../server/protection/handling/handling-rules.ts';
import { CHANNELS } from '../../../../core/protection/handling/channel.ts';
import { Lens } from '../../../../core/lens/lens.ts';

export const GET = endpoint({
  action: 'protection.read',
  input: z.object({}),
  run: ({ ctx }) => listHandlingRules(ctx.store),
});

export const POST = endpoint({
  action: 'protection.edit',
  input: z.object({
    name: z.string().trim().min(1, 'Give it a name.').max(120),
    channel: z.enum(CHANNELS),
    lens: Lens,
  }),
  run: async ({ ctx, account, input: { name, channel, lens } }) => ({
    id: await ctx.store.transaction((tx) =>
      addHandlingRule(tx, ctx.now(), account.id, { ...firstHandlingRule(name, { [channel]: 'ask' }), lens }),
    ),
  }),
});
