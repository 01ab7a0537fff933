import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { EVENT_LIST } from '../../../../core/access/history/event-list.ts';
import { listShape } from '../../../../core/lists/list-shape.ts';
import { eventsCsv } from '../../../../server/access/history/access-events.ts';
import { streamed } from '../../../../server/http/csv.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object(listShape(EVENT_LIST)),
  object: whole('estate'),
  run: async ({ ctx, input, outgoing }) =>
    streamed('changes-of-access.csv', 'text/csv; charset=utf-8', outgoing, await eventsCsv(ctx, input)),
});
