import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import {
  addNamedPublication,
  listPublications,
} from '../../../../server/protection/publishing/publications.ts';

export const GET = endpoint({
  action: 'protection.read',
  input: z.object({}),
  run: ({ ctx }) => listPublications(ctx.store),
});

export const POST = endpoint({
  action: 'protection.edit',
  input: z.object({ name: z.string().trim().min(1, 'Give it a name.').max(120) }),
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) => addNamedPublication(tx, ctx.now(), account.id, input.name)),
  }),
});
