import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { describeBuiltIn } from '../../../server/holdings/trial.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ id: z.string() }),
  run: async ({ input }) => describeBuiltIn(input.id),
});
