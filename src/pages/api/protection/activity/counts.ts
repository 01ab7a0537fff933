import { z } from 'zod';
import { listShape } from '../../../../core/lists/list-shape.ts';
import { EVENT_LIST } from '../../../../core/protection/activity/event-list.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { countEvents, detectorsTold, eventFacets } from '../../../../server/protection/activity/events.ts';

/** How many match, and what there is to filter by. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object(listShape(EVENT_LIST)),
  run: async ({ ctx, input }) => {
    const [total, facets, data] = await Promise.all([
      countEvents(ctx.store, input),
      eventFacets(ctx.store, input),
      detectorsTold(ctx.store),
    ]);
    return { total, facets, data };
  },
});
