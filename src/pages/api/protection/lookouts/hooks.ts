import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addHook, listHooks, stopHook } from '../../../../server/protection/lookouts/hooks.ts';

export const GET = endpoint({
  action: 'protection.watch',
  input: z.object({}),
  run: ({ ctx }) => listHooks(ctx.store),
});

/** Its secret is in the answer this once. */
export const POST = endpoint({
  action: 'protection.watch',
  input: z.object({
    name: z.string().trim().min(1, 'Give it a name.').max(120),
    url: z.string().trim().min(1, 'Give its address.').max(2000),
  }),
  run: ({ ctx, account, input }) => addHook(ctx, account, input),
});

export const DELETE = endpoint({
  action: 'protection.watch',
  input: z.object({ id: z.coerce.number().int().min(1) }),
  run: ({ ctx, account, input }) => stopHook(ctx, account, input.id),
});
