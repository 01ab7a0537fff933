import { z } from 'zod';
import { programEndpoint } from '../../../server/http/program-endpoint.ts';
import { TOLD_KINDS } from '../../../core/protection/activity/event.ts';
import { takeEvents } from '../../../server/protection/activity/take-events.ts';

/** What a program has to tell of what people did: a JSON value a line. Answered once it is committed. */
export const POST = programEndpoint({
  scope: 'activity',
  input: z.object({}),
  run: ({ ctx, body }) =>
    takeEvents(ctx, { kinds: TOLD_KINDS, device: 0, aheadMs: 0 }, new TextDecoder().decode(body)),
});
