import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addNamedLevel, listLevels } from '../../../../server/protection/levels/levels.ts';

/** The strongest first. */
export const GET = endpoint({
  action: 'protection.read',
  input: z.object({}),
  run: ({ ctx, account }) => listLevels(ctx, account),
});

export const POST = endpoint({
  action: 'protection.edit',
  input: z.object({ name: z.string().trim().min(1, 'Give it a name.').max(80) }),
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) => addNamedLevel(tx, ctx.now(), account.id, input.name)),
  }),
});
