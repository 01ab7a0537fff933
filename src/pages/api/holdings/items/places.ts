import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { ComparedInput, explorerPlaces, LensLine } from '../../../../server/holdings/items/explorer.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ lens: LensLine, above: z.string().max(4200).default(''), ...ComparedInput }),
  run: ({ ctx, account, input }) => explorerPlaces(ctx, account, input.lens, input.above, input),
});
