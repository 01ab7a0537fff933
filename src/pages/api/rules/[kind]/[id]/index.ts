import { z } from 'zod';
import { ruleKind } from '../../../../../server/desk/rule-kinds.ts';
import { RuleInput, ruleObject } from '../../../../../server/desk/rule-input.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { editRule } from '../../../../../server/rules/rule-edits.ts';
import { removeDraft } from '../../../../../server/rules/rule-remove.ts';
import { viewRule } from '../../../../../server/rules/rule-view.ts';

export const GET = endpoint({
  action: ({ kind = '' }) => ruleKind(kind).see,
  input: RuleInput,
  object: ruleObject,
  run: ({ ctx, input }) => viewRule(ctx.store, ruleKind(input.kind).kind, input.id),
});

export const PUT = endpoint({
  action: ({ kind = '' }) => ruleKind(kind).edit,
  input: RuleInput.extend({ revision: z.int().nonnegative(), base: z.json(), content: z.json() }),
  object: ruleObject,
  run: ({ ctx, account, input: { kind, id, ...edit } }) =>
    editRule(ctx, ruleKind(kind).kind, account.id, id, edit),
});

/** Removes a draft that was never rehearsed nor in force. */
export const DELETE = endpoint({
  action: ({ kind = '' }) => ruleKind(kind).edit,
  input: RuleInput.extend({ revision: z.int().nonnegative() }),
  object: ruleObject,
  run: ({ ctx, account, input: { kind, id, revision } }) =>
    removeDraft(ctx, ruleKind(kind).kind, account.id, id, revision),
});
