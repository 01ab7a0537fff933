import { z } from 'zod';
import { EVENT_LIST } from '../../../../core/protection/activity/event-list.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { pageShape } from '../../../../server/lists/list-source.ts';
import { listEvents } from '../../../../server/protection/activity/events.ts';

export const GET = endpoint({
  action: 'protection.activity',
  input: z.object(pageShape(EVENT_LIST)),
  run: ({ ctx, input }) => listEvents(ctx.store, input, input.after, input.size),
});
