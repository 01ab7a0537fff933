import { z } from 'zod';
import { NamedGroup } from '../../../../core/protection/handling/named-group.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addNamedGroup, listNamedGroups } from '../../../../server/protection/handling/named-groups.ts';

export const GET = endpoint({
  action: 'protection.read',
  input: z.object({}),
  run: ({ ctx }) => listNamedGroups(ctx.store),
});

export const POST = endpoint({
  action: 'protection.edit',
  input: NamedGroup,
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) => addNamedGroup(tx, ctx.now(), account.id, input)),
  }),
});
