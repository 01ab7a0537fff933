import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { itemObject } from '../../../../../server/holdings/offers.ts';
import { pdfSide } from '../../../../../server/protection/levels/level-sides.ts';

/** One side of a PDF as it is, values and all. That it was read goes to the ledger. */
export const POST = endpoint({
  action: 'holdings.reveal',
  input: z.object({
    id: z.coerce.number().int().positive(),
    level: z.string().max(64),
    side: z.enum(['before', 'after']),
  }),
  object: itemObject,
  run: async ({ ctx, account, input }) =>
    new Response((await pdfSide(ctx, account, input.id, input)) as Uint8Array<ArrayBuffer>, {
      headers: {
        'content-type': 'application/octet-stream',
        'cache-control': 'no-store',
        'x-content-type-options': 'nosniff',
      },
    }),
});
