import { z } from 'zod';
import { tryHook } from '../../../../../server/accounts/programs/event-hooks.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** Sends the webhook something that did not happen. */
export const POST = endpoint({
  action: 'programs.edit',
  input: z.object({ id: z.coerce.number().int().positive() }),
  run: ({ ctx, input }) => tryHook(ctx, input.id),
});
