import { z } from 'zod';
import { AlertAct } from '../../../../core/protection/alerts/alert.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { actOnAlerts } from '../../../../server/protection/alerts/alerts.ts';

/** The same about many alerts; those that could not be are told. */
export const POST = endpoint({
  action: 'protection.alerts',
  input: z.object({
    ids: z.array(z.int().min(1)).min(1, 'Choose some').max(500, 'At most 500 at once'),
    act: AlertAct,
  }),
  run: ({ ctx, account, input }) => actOnAlerts(ctx, account, input.ids, input.act),
});
