import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { explorerFigures, LensLine } from '../../../../server/holdings/items/explorer.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ lens: LensLine }),
  run: ({ ctx, account, input }) => explorerFigures(ctx, account, input.lens),
});
