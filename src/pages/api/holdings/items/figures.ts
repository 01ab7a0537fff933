import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { ComparedInput, explorerFigures, LensLine } from '../../../../server/holdings/items/explorer.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ lens: LensLine, ...ComparedInput }),
  run: ({ ctx, account, input }) => explorerFigures(ctx, account, input.lens, input),
});
