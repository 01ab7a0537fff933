import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { itemObject } from '../../../../../server/holdings/items/item-view.ts';
import { teachWith } from '../../../../../server/holdings/items/teach.ts';

/** Gives a learned detector this document as an example. */
export const POST = endpoint({
  action: 'holdings.edit',
  input: z.object({
    id: z.coerce.number().int().positive(),
    detector: z.string().max(64),
    holds: z.boolean(),
  }),
  object: itemObject,
  run: ({ ctx, account, input }) => teachWith(ctx, account, input.id, input),
});
