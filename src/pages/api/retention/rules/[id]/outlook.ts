import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { retentionOutlook } from '../../../../../server/retention/rehearsal/outlook.ts';

/** What a rule would do if its draft were in force today. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({ id: z.string().max(20) }),
  object: (_ctx, { id }) => ({ kind: 'retention rule', id }),
  run: ({ ctx, account, input }) => retentionOutlook(ctx, account, input.id),
});
