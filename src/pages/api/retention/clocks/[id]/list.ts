import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { takeClockList } from '../../../../../server/retention/clocks/clocks.ts';

/** Takes a list of days that was sent, in the place of the one before. */
export const POST = endpoint({
  action: 'retention.edit',
  input: z.object({ id: z.coerce.number().int().positive(), upload: z.int().positive() }),
  object: (_ctx, { id }) => ({ kind: 'clock', id, wholeOf: ['source'] }),
  run: ({ ctx, account, input }) => takeClockList(ctx, account.id, input.id, input.upload),
});
