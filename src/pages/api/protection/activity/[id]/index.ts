import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { explainEvent } from '../../../../../server/protection/activity/explain-event.ts';

/** One event, and what the rules of now say of it. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object({ id: z.string().regex(/^[0-9a-f]{32}$/), at: z.iso.datetime({ precision: 3 }) }),
  run: ({ ctx, input }) => explainEvent(ctx, input.at, input.id),
});
