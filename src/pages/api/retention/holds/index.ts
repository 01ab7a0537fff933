import { z } from 'zod';
import { newHold } from '../../../../core/retention/holds/hold.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addHold, listHolds } from '../../../../server/retention/holds/holds.ts';

export const GET = endpoint({
  action: 'retention.read',
  input: z.object({}),
  run: ({ ctx }) => listHolds(ctx.store),
});

export const POST = endpoint({
  action: 'retention.hold',
  input: z.object({ name: z.string().trim().min(1, 'Give it a name.').max(120) }),
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) => addHold(tx, ctx.now(), account.id, newHold(input.name))),
  }),
});
