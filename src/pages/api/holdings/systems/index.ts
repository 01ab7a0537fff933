import { z } from 'zod';
import { SYSTEM_LIST } from '../../../../core/holdings/sources/source-list.ts';
import { SystemContent } from '../../../../core/holdings/sources/source.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addSystem, listSystems } from '../../../../server/holdings/sources/systems.ts';
import { pageShape } from '../../../../server/lists/list-source.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object(pageShape(SYSTEM_LIST)),
  run: ({ ctx, input }) => listSystems(ctx, input, input.after, input.size),
});

export const POST = endpoint({
  action: 'holdings.sources',
  input: SystemContent,
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) => addSystem(tx, ctx.now(), account.id, input)),
  }),
});
