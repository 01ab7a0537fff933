import { z } from 'zod';
import { ALERT_LIST } from '../../../../core/protection/alerts/alert-list.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { pageShape } from '../../../../server/lists/list-source.ts';
import { listAlerts } from '../../../../server/protection/alerts/alerts.ts';

export const GET = endpoint({
  action: 'protection.alerts',
  input: z.object(pageShape(ALERT_LIST)),
  run: ({ ctx, input }) => listAlerts(ctx.store, input, input.after, input.size),
});
