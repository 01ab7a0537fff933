import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { itemText } from '../../../../../server/holdings/items/item-text.ts';
import { itemObject } from '../../../../../server/holdings/items/item-view.ts';

/** That it was read goes to the ledger. */
export const POST = endpoint({
  action: 'holdings.judge',
  input: z.object({ id: z.coerce.number().int().positive() }),
  object: itemObject,
  run: ({ ctx, account, input }) => itemText(ctx, account, input.id),
});
