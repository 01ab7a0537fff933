import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { EVENT_LIST } from '../../../../core/access/history/event-list.ts';
import { listEvents } from '../../../../server/access/history/access-events.ts';
import { pageShape } from '../../../../server/lists/list-source.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object(pageShape(EVENT_LIST)),
  object: whole('estate'),
  run: ({ ctx, input }) => listEvents(ctx, input, input.after, input.size),
});
