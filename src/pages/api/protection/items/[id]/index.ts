import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { itemObject } from '../../../../../server/holdings/offers.ts';
import { levelOfItem } from '../../../../../server/protection/levels/item-level.ts';
import { setLevelByHand } from '../../../../../server/protection/levels/set-level.ts';

const Id = z.object({ id: z.coerce.number().int().positive() });

/** The level of an item, and why. */
export const GET = endpoint({
  action: 'protection.read',
  input: Id,
  object: itemObject,
  run: ({ ctx, input }) => levelOfItem(ctx, input.id),
});

export const POST = endpoint({
  action: 'protection.set',
  input: Id.extend({
    level: z.string().min(1, 'Choose a level.').max(64),
    reason: z.string().trim().max(400).default(''),
  }),
  object: itemObject,
  run: ({ ctx, account, input: { id, ...choice } }) => setLevelByHand(ctx, account, id, choice),
});
