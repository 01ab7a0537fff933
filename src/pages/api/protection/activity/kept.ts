import { z } from 'zod';
import { EVENT_KINDS } from '../../../../core/protection/activity/event.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { daysKept, MOST_DAYS, sayDaysKept } from '../../../../server/protection/activity/activity-kept.ts';

/** How long what each kind tells is kept, in days. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object({}),
  run: ({ ctx }) => daysKept(ctx.store),
});

export const PUT = endpoint({
  action: 'protection.put-in-force',
  input: z.object({
    kind: z.enum(EVENT_KINDS),
    days: z.int().min(0, '0 days or more').max(MOST_DAYS, 'At most 3,650 days'),
    saw: z.int(),
  }),
  run: ({ ctx, account, input }) => sayDaysKept(ctx, account.id, input),
});
