import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { sayToMany } from '../../../../server/protection/proposals/proposals.ts';
import { itemsObject } from '../../../../server/holdings/offers.ts';

/** Says for owners that they agree to many, or not. */
export const POST = endpoint({
  action: 'protection.set',
  input: z.object({
    all: z
      .array(z.object({ item: z.int().positive(), rule: z.string().max(64) }))
      .min(1, 'Choose at least one.')
      .max(500, 'At most 500 at once.'),
    agree: z.boolean(),
    reason: z.string().trim().max(400).default(''),
  }),
  // Accounts that are kept to some sources answer for those alone.
  object: (ctx, { all }) =>
    itemsObject(
      ctx,
      all.map((a) => a.item),
    ),
  run: ({ ctx, account, input: { all, ...said } }) => sayToMany(ctx, { account }, all, said),
});
