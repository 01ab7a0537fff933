import { z } from 'zod';
import { plainKind } from '../../../../../server/desk/plain-kinds.ts';
import { editedObject, ObjectInput, plainObject } from '../../../../../server/desk/rule-input.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { editObject, readObject } from '../../../../../server/rules/plain-object.ts';

export const GET = endpoint({
  action: ({ kind = '' }) => plainKind(kind).see,
  input: ObjectInput,
  object: plainObject,
  run: ({ ctx, input }) => readObject(ctx.store, plainKind(input.kind).kind, input.id),
});

export const PUT = endpoint({
  action: ({ kind = '' }) => plainKind(kind).edit,
  input: ObjectInput.extend({ revision: z.int().nonnegative(), base: z.json(), content: z.json() }),
  object: editedObject,
  run: ({ ctx, account, input: { kind, id, ...edit } }) =>
    ctx.store.transaction((tx) => editObject(tx, ctx.now(), plainKind(kind).kind, account.id, id, edit)),
});
