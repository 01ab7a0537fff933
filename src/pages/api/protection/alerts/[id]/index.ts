import { z } from 'zod';
import { AlertAct } from '../../../../../core/protection/alerts/alert.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { actOnAlert, viewAlert } from '../../../../../server/protection/alerts/alerts.ts';

const Id = z.coerce.number().int().min(1);

export const GET = endpoint({
  action: 'protection.alerts',
  input: z.object({ id: Id }),
  run: ({ ctx, input }) => viewAlert(ctx, input.id),
});

/** Does something about it; the alert as it stands then. */
export const POST = endpoint({
  action: 'protection.alerts',
  input: z.object({ id: Id, does: AlertAct }),
  run: async ({ ctx, account, input: { id, does } }) => {
    await actOnAlert(ctx, account, id, does);
    return viewAlert(ctx, id);
  },
});
