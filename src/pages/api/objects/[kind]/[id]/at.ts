import { z } from 'zod';
import { plainKind } from '../../../../../server/desk/plain-kinds.ts';
import { ObjectInput, plainObject } from '../../../../../server/desk/rule-input.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { objectAt } from '../../../../../server/rules/object-history.ts';

/** As it was at a version. */
export const GET = endpoint({
  action: ({ kind = '' }) => plainKind(kind).see,
  input: ObjectInput.extend({ revision: z.coerce.number().int().nonnegative() }),
  object: plainObject,
  run: ({ ctx, input }) => objectAt(ctx.store, plainKind(input.kind).kind, input.id, input.revision),
});
