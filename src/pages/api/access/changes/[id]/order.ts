import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { workOrder } from '../../../../../server/access/change/work-orders.ts';
import { RowId } from '../../../../../server/access/inputs.ts';
import { attachment } from '../../../../../server/http/attachment.ts';

/** What is to be done by hand, for whoever owns its source. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object({ id: RowId }),
  object: whole('estate'),
  run: async ({ ctx, input }) =>
    attachment(
      `work-order-${input.id}.txt`,
      'text/plain; charset=utf-8',
      await workOrder(ctx.store, input.id),
    ),
});
