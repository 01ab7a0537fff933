import { z } from 'zod';
import { newRetentionRule, RetentionRuleDraft } from '../../../../core/retention/rules/retention-rule.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addRetentionRule, listRetentionRules } from '../../../../server/retention/rules/retention-rules.ts';

export const GET = endpoint({
  action: 'retention.read',
  input: z.object({}),
  run: ({ ctx }) => listRetentionRules(ctx.store),
});

/** Begins a draft; what is not said is as a new rule has it. */
export const POST = endpoint({
  action: 'retention.edit',
  input: RetentionRuleDraft.partial().required({ name: true }),
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) =>
      addRetentionRule(tx, ctx.now(), account.id, { ...newRetentionRule(input.name), ...given(input) }),
    ),
  }),
});

function given<T extends object>(input: T): Partial<{ [K in keyof T]: Exclude<T[K], undefined> }> {
  return Object.fromEntries(Object.entries(input).filter(([, value]) => value !== undefined)) as never;
}
