import { z } from 'zod';
import { listShape } from '../../../../core/lists/list-shape.ts';
import { EVENT_LIST } from '../../../../core/protection/activity/event-list.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { detectorsTold, eventCounts } from '../../../../server/protection/activity/events.ts';

/** How many match, and what there is to filter by. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object(listShape(EVENT_LIST)),
  run: async ({ ctx, input }) => {
    const [counts, data] = await Promise.all([eventCounts(ctx.store, input), detectorsTold(ctx.store)]);
    return { ...counts, data };
  },
});
