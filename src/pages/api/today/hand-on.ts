import { z } from 'zod';
import { ItemInput } from '../../../server/desk/item-input.ts';
import { handOn, takeBack } from '../../../server/desk/today-own.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

export const PUT = endpoint({
  action: 'today.read',
  input: ItemInput.extend({
    to: z.int().min(1),
    words: z.string().trim().max(300, 'At most 300 characters').default(''),
  }),
  run: ({ ctx, account, input: { kind, key, to, words } }) => handOn(ctx, account, kind, key, to, words),
});

export const DELETE = endpoint({
  action: 'today.read',
  input: ItemInput,
  run: ({ ctx, account, input }) => takeBack(ctx, account, input.kind, input.key),
});
