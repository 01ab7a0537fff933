import { z } from 'zod';
import { ItemAct } from '../../../../../../core/cases/requests/request-act.ts';
import { actOnItem, viewItem } from '../../../../../../server/cases/requests/items/request-items.ts';
import { requireItemRight } from '../../../../../../server/cases/requests/tasks/tasks.ts';
import { ItemId, RequestId } from '../../../../../../server/cases/requests/view-request.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'cases.task',
  input: z.object({ id: RequestId, item: ItemId }),
  run: async ({ ctx, account, input }) => {
    await requireItemRight(ctx, account, input.id, input.item);
    return viewItem(ctx, account, input.id, input.item);
  },
});

/** Decides something about it; the item as it stands then. */
export const POST = endpoint({
  action: 'cases.task',
  input: z.object({ id: RequestId, item: ItemId, does: ItemAct }),
  run: async ({ ctx, account, input: { id, item, does } }) => {
    await requireItemRight(ctx, account, id, item);
    await actOnItem(ctx, account, id, item, does);
    return viewItem(ctx, account, id, item);
  },
});
