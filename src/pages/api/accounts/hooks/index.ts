import { z } from 'zod';
import { objectKinds } from '../../../../core/accounts/object-sight.ts';
import { NewHook } from '../../../../core/accounts/programs/event.ts';
import { addEventHook, listEventHooks } from '../../../../server/accounts/programs/event-hooks.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** Webhooks that are told of what happens, and the kinds of objects that they can be told of. */
export const GET = endpoint({
  action: 'programs.read',
  input: z.object({}),
  run: async ({ ctx, account }) => ({
    hooks: await listEventHooks(ctx.store),
    kinds: objectKinds(account),
  }),
});

/** Tells a webhook of what happens from now on; the secret that signs it is told this once. */
export const POST = endpoint({
  action: 'programs.edit',
  input: NewHook,
  run: ({ ctx, account, input }) => addEventHook(ctx, account, input),
});
