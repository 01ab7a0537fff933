import { z } from 'zod';
import { plainKind } from '../../../../../server/desk/plain-kinds.ts';
import { ObjectInput, editedObject } from '../../../../../server/desk/rule-input.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { undoEdit } from '../../../../../server/rules/plain-object.ts';

/** Takes one saved edit out of it again. */
export const POST = endpoint({
  action: ({ kind = '' }) => plainKind(kind).edit,
  input: ObjectInput.extend({ revision: z.int().positive() }),
  object: editedObject,
  run: ({ ctx, account, input: { kind, id, revision } }) =>
    ctx.store.transaction((tx) => undoEdit(tx, ctx.now(), plainKind(kind).kind, account.id, id, revision)),
});
