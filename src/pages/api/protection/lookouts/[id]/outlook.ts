import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { lookoutOutlook } from '../../../../../server/protection/lookouts/tune-lookout.ts';

/** What the draft of a lookout would have raised over the last days. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object({ id: z.string().max(64), days: z.coerce.number().int().min(1).max(90).default(30) }),
  run: ({ ctx, input }) => lookoutOutlook(ctx, input.id, input.days),
});
