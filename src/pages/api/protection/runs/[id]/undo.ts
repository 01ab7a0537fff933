import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { proposeUndo } from '../../../../../server/protection/runs/level-runs.ts';

/** Has putting it all back estimated. */
export const POST = endpoint({
  action: 'protection.run',
  input: z.object({ id: z.string().regex(/^\d{1,18}$/) }),
  object: whole('run'),
  run: async ({ ctx, account, input }) => ({ id: await proposeUndo(ctx, account.id, input.id) }),
});
