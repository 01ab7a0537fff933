import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { revealMatch } from '../../../../../server/holdings/items/item-text.ts';
import { itemObject } from '../../../../../server/holdings/items/item-view.ts';

/** One value in clear; that it was looked at goes to the ledger. */
export const POST = endpoint({
  action: 'holdings.reveal',
  input: z.object({
    id: z.coerce.number().int().positive(),
    detector: z.string().max(64),
    number: z.int().nonnegative(),
  }),
  object: itemObject,
  run: ({ ctx, account, input }) => revealMatch(ctx, account, input.id, input),
});
