import { z } from 'zod';
import { CLOCK_WAYS, newClock } from '../../../../core/retention/clock/clock-content.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addClock, listClocks } from '../../../../server/retention/clocks/clocks.ts';

export const GET = endpoint({
  action: 'retention.read',
  input: z.object({}),
  run: ({ ctx }) => listClocks(ctx.store),
});

export const POST = endpoint({
  action: 'retention.edit',
  input: z.object({
    name: z.string().trim().min(1, 'Give it a name.').max(120),
    way: z.enum(Object.keys(CLOCK_WAYS) as [keyof typeof CLOCK_WAYS, ...(keyof typeof CLOCK_WAYS)[]]),
  }),
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) =>
      addClock(tx, ctx.now(), account.id, newClock(input.name, input.way)),
    ),
  }),
});
