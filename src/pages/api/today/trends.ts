import { z } from 'zod';
import { checkedLately } from '../../../server/desk/checked.ts';
import { todayTrends } from '../../../server/desk/today-days.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

/** How many of each kind there were, day by day; and what was looked at in the last day. */
export const GET = endpoint({
  action: 'today.read',
  input: z.object({ days: z.coerce.number().int().min(2).max(1100).default(60) }),
  run: async ({ ctx, account, input }) => ({
    trends: await todayTrends(ctx, account, input.days),
    checked: await checkedLately(ctx, account),
  }),
});
