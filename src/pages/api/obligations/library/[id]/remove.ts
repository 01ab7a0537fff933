import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { removeFramework } from '../../../../../server/obligations/library/take-framework.ts';

/** Takes a version of an own framework out of the library. */
export const POST = endpoint({
  action: 'obligations.edit',
  input: z.object({ id: z.string().max(80), version: z.iso.date() }),
  run: ({ ctx, account, input }) => removeFramework(ctx, account.id, input.id, input.version),
});
