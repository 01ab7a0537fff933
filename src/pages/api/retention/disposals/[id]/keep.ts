import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { disposalObject } from '../../../../../server/retention/disposal/disposals.ts';
import { keepFromDisposal } from '../../../../../server/retention/disposal/say.ts';

/** Takes some of it out: these stay, with a reason. */
export const POST = endpoint({
  action: 'retention.dispose',
  input: z.object({
    id: z.string().regex(/^\d{1,18}$/),
    items: z.array(z.int().positive()).min(1, 'Choose at least one.').max(5000, 'At most 5,000 at once.'),
    reason: z.string().trim().max(400),
    until: z.iso.date().nullable().default(null),
  }),
  object: disposalObject,
  run: ({ ctx, account, input: { id, items, ...word } }) =>
    keepFromDisposal(
      ctx,
      { address: account.email, name: account.name, account: account.id },
      id,
      items,
      word,
    ),
});
