import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { listStewards } from '../../../server/holdings/sources/systems.ts';

/** Who can look after the data of a system. */
export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({}),
  run: ({ ctx }) => listStewards(ctx.store),
});
