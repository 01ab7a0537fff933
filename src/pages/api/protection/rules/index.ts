import { z } from 'zod';
import { LevelRuleDraft } from '../../../../core/protection/rules/level-rule.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addLevelRule, listLevelRules } from '../../../../server/protection/rules/level-rules.ts';

export const GET = endpoint({
  action: 'protection.read',
  input: z.object({}),
  run: ({ ctx }) => listLevelRules(ctx.store),
});

export const POST = endpoint({
  action: 'protection.edit',
  input: LevelRuleDraft,
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) => addLevelRule(tx, ctx.now(), account.id, input)),
  }),
});
