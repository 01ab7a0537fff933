import { z } from 'zod';
import { RUN_ACTS } from '../../../../core/runs/run.ts';
import { kindOfRun, requireStarter, runObject } from '../../../../server/desk/run-kinds.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { moveRun, viewRun } from '../../../../server/runs/runs.ts';

const Input = z.object({ id: z.string().regex(/^\d{1,18}$/, 'a number') });

/** A run with its parts, its estimate and what came of it. */
export const GET = endpoint({
  action: 'jobs.read',
  input: Input,
  object: runObject,
  run: async ({ ctx, input }) => viewRun(ctx.store, await kindOfRun(ctx, input.id), input.id),
});

/** Starts, pauses, goes on or cancels. */
export const POST = endpoint({
  action: 'jobs.read',
  input: Input.extend({ act: z.enum(RUN_ACTS) }),
  object: runObject,
  run: async ({ ctx, account, input: { id, act } }) => {
    const kind = await kindOfRun(ctx, id);
    requireStarter(account, kind);
    const { state } = await ctx.store.transaction((tx) => moveRun(tx, ctx, kind, account.id, id, act));
    return { state };
  },
});
