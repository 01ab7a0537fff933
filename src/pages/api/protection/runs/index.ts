import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { KEEP_DAYS, listLevelRuns, proposeLevelRun } from '../../../../server/protection/runs/level-runs.ts';

export const GET = endpoint({
  action: 'protection.read',
  input: z.object({}),
  object: whole('run'),
  run: ({ ctx }) => listLevelRuns(ctx.store),
});

/** Has it estimated; nothing is changed before somebody starts it. */
export const POST = endpoint({
  action: 'protection.run',
  input: z.object({
    mode: z.enum(['rehearse', 'set']),
    rule: z.string().max(20).optional(),
    keepDays: z.int().min(0, 'No fewer than 0 days').max(3650, 'At most ten years').default(KEEP_DAYS),
  }),
  object: whole('run'),
  run: async ({ ctx, account, input }) => ({ id: await proposeLevelRun(ctx, account, input) }),
});
