import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { itemObject } from '../../../../../server/holdings/offers.ts';
import { levelSides } from '../../../../../server/protection/levels/level-sides.ts';

/** An item before and after a level stands on it. That it was read goes to the ledger. */
export const POST = endpoint({
  action: 'protection.run',
  input: z.object({ id: z.coerce.number().int().positive(), level: z.string().max(64) }),
  object: itemObject,
  run: ({ ctx, account, input }) => levelSides(ctx, account, input.id, input.level),
});
