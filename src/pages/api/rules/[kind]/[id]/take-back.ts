import { z } from 'zod';
import { ruleKind } from '../../../../../server/desk/rule-kinds.ts';
import { RuleInput, ruleObject } from '../../../../../server/desk/rule-input.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { takeRuleBack } from '../../../../../server/rules/rule-edits.ts';

export const POST = endpoint({
  action: ({ kind = '' }) => ruleKind(kind).edit,
  input: RuleInput.extend({ version: z.int().positive(), revision: z.int().nonnegative() }),
  object: ruleObject,
  run: ({ ctx, account, input: { kind, id, version, revision } }) =>
    ctx.store.transaction((tx) =>
      takeRuleBack(tx, ctx.now(), ruleKind(kind).kind, account.id, id, version, revision),
    ),
});
