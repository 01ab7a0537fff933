import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { itemObject } from '../../../../../server/holdings/offers.ts';
import { retentionOfItem } from '../../../../../server/retention/items/item-retention.ts';

/** Why an item is still here, and when it goes; with a rule, as if that were in force as its draft stands. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({ id: z.coerce.number().int().positive(), rule: z.string().max(20).optional() }),
  object: itemObject,
  run: ({ ctx, input: { id, rule } }) => retentionOfItem(ctx, id, rule === undefined ? 'in force' : { rule }),
});
