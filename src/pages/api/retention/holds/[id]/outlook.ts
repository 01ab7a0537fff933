import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { holdOutlook } from '../../../../../server/retention/holds/hold-outlook.ts';

/** What a hold covers as its draft stands, what it keeps from going, and who was told. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({ id: z.string().max(20) }),
  object: (_ctx, { id }) => ({ kind: 'hold', id }),
  run: ({ ctx, account, input }) => holdOutlook(ctx, account, input.id),
});
