import { z } from 'zod';
import { ruleKind } from '../../../../../../server/desk/rule-kinds.ts';
import { RuleInput, forcedRule } from '../../../../../../server/desk/rule-input.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { askToAgree, whoCouldAgree, withdrawApproval } from '../../../../../../server/rules/approvals.ts';

/** Who could be asked to agree to the draft as it stands. */
export const GET = endpoint({
  action: ({ kind = '' }) => ruleKind(kind).force,
  input: RuleInput,
  object: forcedRule,
  run: ({ ctx, account, input }) =>
    whoCouldAgree(ctx.store, { ...ruleKind(input.kind), key: input.id }, account.id),
});

export const POST = endpoint({
  action: ({ kind = '' }) => ruleKind(kind).force,
  input: RuleInput.extend({
    revision: z.int().nonnegative(),
    people: z.array(z.int().positive()).min(1, 'Choose who is asked.').max(20, 'Twenty people at most.'),
    reason: z.string().trim().min(1, 'Say why it is to be in force.').max(500, '500 characters at most.'),
  }),
  object: forcedRule,
  run: ({ ctx, account, input: { kind, id, ...asking } }) =>
    askToAgree(ctx, account, { ...ruleKind(kind), key: id }, asking),
});

export const DELETE = endpoint({
  action: ({ kind = '' }) => ruleKind(kind).force,
  input: RuleInput.extend({ approval: z.string().max(20) }),
  object: forcedRule,
  run: ({ ctx, account, input: { kind, id, approval } }) =>
    withdrawApproval(ctx, account, { ...ruleKind(kind), key: id }, approval),
});
