import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { LensLine, readLens } from '../../../../server/holdings/items/explorer.ts';
import { addLens, listLenses } from '../../../../server/holdings/lenses/lenses.ts';
import { KeptLens } from '../../../../core/holdings/lenses/kept-lens.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({}),
  run: ({ ctx, account }) => listLenses(ctx, account),
});

export const POST = endpoint({
  action: 'holdings.judge',
  input: z.object({ name: KeptLens.shape.name, lens: LensLine }),
  run: async ({ ctx, account, input: { name, lens } }) => ({
    id: await ctx.store.transaction((tx) =>
      addLens(tx, ctx.now(), account.id, { name, lens: readLens(lens) }),
    ),
  }),
});
