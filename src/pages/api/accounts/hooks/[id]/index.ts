import { z } from 'zod';
import {
  callsOf,
  findEventHook,
  stopEventHook,
} from '../../../../../server/accounts/programs/event-hooks.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

const Id = z.object({ id: z.coerce.number().int().positive() });

/** A webhook with what was sent to it, the newest hundred. */
export const GET = endpoint({
  action: 'programs.read',
  input: Id,
  run: async ({ ctx, input: { id } }) => ({
    hook: await findEventHook(ctx.store, id),
    calls: await callsOf(ctx.store, id),
  }),
});

/** It is told nothing any more, what waits included. */
export const DELETE = endpoint({
  action: 'programs.edit',
  input: Id,
  run: ({ ctx, account, input }) => stopEventHook(ctx, account, input.id),
});
