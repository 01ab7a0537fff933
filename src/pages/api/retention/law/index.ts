import { z } from 'zod';
import { newLawBound } from '../../../../core/retention/rules/law-bound.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addLawBound, listLawBounds } from '../../../../server/retention/rules/law-bounds.ts';

export const GET = endpoint({
  action: 'retention.read',
  input: z.object({}),
  run: ({ ctx }) => listLawBounds(ctx.store),
});

export const POST = endpoint({
  action: 'retention.edit',
  input: z.object({ name: z.string().trim().min(1, 'Give it a name.').max(120) }),
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) => addLawBound(tx, ctx.now(), account.id, newLawBound(input.name))),
  }),
});
