import { z } from 'zod';
import { ruleKind } from '../../../../../server/desk/rule-kinds.ts';
import { RuleInput, ruleObject } from '../../../../../server/desk/rule-input.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { objectHistory } from '../../../../../server/rules/object-history.ts';
import { PageSize } from '../../../../../server/store/page.ts';

/** Edits of its draft, the latest first. */
export const GET = endpoint({
  action: ({ kind = '' }) => ruleKind(kind).see,
  input: RuleInput.extend({ after: z.string().max(200).optional(), size: PageSize }),
  object: ruleObject,
  run: ({ ctx, input }) => objectHistory(ctx.store, input.kind, input.id, input.after, input.size),
});
