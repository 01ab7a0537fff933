import { z } from 'zod';
import { ruleKind } from '../../../../../../server/desk/rule-kinds.ts';
import { RuleInput, forcedRule } from '../../../../../../server/desk/rule-input.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { sayAgreed } from '../../../../../../server/rules/approvals.ts';

/** One's own yes or no. */
export const POST = endpoint({
  action: ({ kind = '' }) => ruleKind(kind).force,
  byPeople: true,
  input: RuleInput.extend({
    approval: z.string().max(20),
    agrees: z.boolean(),
    reason: z.string().trim().min(1, 'Say why, for the record.').max(500, '500 characters at most.'),
  }),
  object: forcedRule,
  run: ({ ctx, account, input: { kind, id, ...saying } }) =>
    sayAgreed(ctx, account, { ...ruleKind(kind), key: id }, saying),
});
