import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { systemNames } from '../../../server/holdings/offers.ts';

/** Systems that an assessment can be about. */
export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({}),
  run: async ({ ctx }) => [...(await systemNames(ctx.store))].map(([id, name]) => ({ id, name })),
});
