import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { retentionTotals } from '../../../server/retention/rehearsal/outlook.ts';

/** What all rules in force come to, and those that rehearse as if they were. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({}),
  run: ({ ctx, account }) => retentionTotals(ctx, account),
});
