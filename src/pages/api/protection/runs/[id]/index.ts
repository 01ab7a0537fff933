import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { viewLevelRun } from '../../../../../server/protection/runs/level-runs.ts';

export const GET = endpoint({
  action: 'protection.read',
  input: z.object({ id: z.string().regex(/^\d{1,18}$/) }),
  object: whole('run'),
  run: ({ ctx, input }) => viewLevelRun(ctx, input.id),
});
