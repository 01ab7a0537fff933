import { z } from 'zod';
import { listShape } from '../../../../core/lists/list-shape.ts';
import { ALERT_LIST } from '../../../../core/protection/alerts/alert-list.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { alertTrends, countAlerts } from '../../../../server/protection/alerts/alerts.ts';
import { assignees } from '../../../../server/protection/alerts/assignees.ts';

/** How many match, what was raised over the last days, and who can have one. */
export const GET = endpoint({
  action: 'protection.alerts',
  input: z.object({ ...listShape(ALERT_LIST), days: z.coerce.number().int().min(1).max(365).default(90) }),
  run: async ({ ctx, input: { days, ...wish } }) => {
    const [total, open, trends, who] = await Promise.all([
      countAlerts(ctx.store, wish),
      countAlerts(ctx.store, { open: 'open' }),
      alertTrends(ctx, days),
      assignees(ctx.store),
    ]);
    return { total, open, trends, assignees: who };
  },
});
