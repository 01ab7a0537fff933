import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { LensLine } from '../../../../../server/holdings/items/explorer.ts';
import { itemObject, viewItem } from '../../../../../server/holdings/items/item-view.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ id: z.coerce.number().int().positive(), lens: LensLine }),
  object: itemObject,
  run: ({ ctx, account, input }) => viewItem(ctx, account, input.id, input.lens),
});
