import { z } from 'zod';
import { ruleKind } from '../../../../../server/desk/rule-kinds.ts';
import { RuleInput, forcedRule } from '../../../../../server/desk/rule-input.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { moveRule, refuseForce } from '../../../../../server/rules/rule-moves.ts';

export const POST = endpoint({
  action: ({ kind = '' }) => ruleKind(kind).force,
  input: RuleInput.extend({
    act: z.enum(['rehearse', 'end rehearsal', 'put in force', 'pause', 'resume', 'retire', 'reopen']),
    revision: z.int().nonnegative(),
  }),
  object: forcedRule,
  run: async ({ ctx, account, input: { kind, id, act, revision } }) => {
    if (act === 'put in force') await refuseForce(ctx, ruleKind(kind).kind, id);
    return {
      stage: await ctx.store.transaction((tx) =>
        moveRule(tx, ctx.now(), ruleKind(kind).kind, account.id, id, act, revision),
      ),
    };
  },
});
