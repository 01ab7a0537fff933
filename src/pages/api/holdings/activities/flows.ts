import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { recordFlows } from '../../../../server/holdings/records/record-flows.ts';

/** Who gives what to whom. */
export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({}),
  run: ({ ctx }) => recordFlows(ctx.store),
});
