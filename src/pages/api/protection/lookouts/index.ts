import { z } from 'zod';
import { Lens } from '../../../../core/lens/lens.ts';
import { CHANNELS } from '../../../../core/protection/handling/channel.ts';
import { firstLookout } from '../../../../core/protection/lookouts/lookout-content.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addLookout, listLookouts } from '../../../../server/protection/lookouts/lookouts.ts';

export const GET = endpoint({
  action: 'protection.alerts',
  input: z.object({}),
  run: ({ ctx }) => listLookouts(ctx),
});

export const POST = endpoint({
  action: 'protection.watch',
  input: z.object({
    name: z.string().trim().min(1, 'Give it a name.').max(120),
    channels: z.array(z.enum(CHANNELS)).max(CHANNELS.length).default([]),
    lens: Lens,
  }),
  run: async ({ ctx, account, input: { name, channels, lens } }) => ({
    id: await ctx.store.transaction((tx) =>
      addLookout(tx, ctx.now(), account.id, firstLookout(name, { channels, lens })),
    ),
  }),
});
