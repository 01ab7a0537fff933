import { z } from 'zod';
import { ruleKind } from '../../../../../server/desk/rule-kinds.ts';
import { RuleInput, ruleObject } from '../../../../../server/desk/rule-input.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { undoRuleEdit } from '../../../../../server/rules/rule-edits.ts';

/** Takes one saved edit out of the draft again. */
export const POST = endpoint({
  action: ({ kind = '' }) => ruleKind(kind).edit,
  input: RuleInput.extend({ revision: z.int().positive() }),
  object: ruleObject,
  run: ({ ctx, account, input: { kind, id, revision } }) =>
    ctx.store.transaction((tx) => undoRuleEdit(tx, ctx.now(), ruleKind(kind).kind, account.id, id, revision)),
});
