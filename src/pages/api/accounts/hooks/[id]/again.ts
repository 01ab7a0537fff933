import { z } from 'zod';
import { sendAgain } from '../../../../../server/accounts/programs/event-hooks.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** Sends a call that failed once more. */
export const POST = endpoint({
  action: 'programs.edit',
  input: z.object({ id: z.coerce.number().int().positive(), call: z.int().positive() }),
  run: ({ ctx, input }) => sendAgain(ctx, input.id, input.call),
});
