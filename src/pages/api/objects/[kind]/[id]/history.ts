import { z } from 'zod';
import { plainKind } from '../../../../../server/desk/plain-kinds.ts';
import { ObjectInput, plainObject } from '../../../../../server/desk/rule-input.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { objectHistory } from '../../../../../server/rules/object-history.ts';
import { PageSize } from '../../../../../server/store/page.ts';

/** Its edits, the latest first. */
export const GET = endpoint({
  action: ({ kind = '' }) => plainKind(kind).see,
  input: ObjectInput.extend({ after: z.string().max(200).optional(), size: PageSize }),
  object: plainObject,
  run: ({ ctx, input }) => objectHistory(ctx.store, input.kind, input.id, input.after, input.size),
});
