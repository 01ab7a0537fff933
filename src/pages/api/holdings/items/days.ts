import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { LensLine } from '../../../../server/holdings/items/explorer.ts';
import { keptDays } from '../../../../server/holdings/lenses/lens-days.ts';

/** Days on which it was kept what was in a lens. */
export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ lens: LensLine }),
  run: ({ ctx, input }) => keptDays(ctx.store, input.lens),
});
