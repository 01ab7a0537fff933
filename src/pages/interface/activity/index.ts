import { z } from 'zod';
import { programEndpoint } from '../../../server/http/program-endpoint.ts';
import { TOLD_KINDS } from '../../../core/protection/activity/event.ts';
import { takeEvents } from '../../../server/protection/activity/take-events.ts';
import { takeOcsf } from '../../../server/protection/intake/take-ocsf.ts';

/**
 * What a program has to tell of what people did: a JSON value a line, as this desk writes them or as OCSF does. Answered
 * once it is committed.
 */
export const POST = programEndpoint({
  scope: 'activity',
  input: z.object({ as: z.enum(['events', 'ocsf']).default('events') }),
  run: ({ ctx, program, input, body }) => {
    const teller = { kinds: TOLD_KINDS, device: 0, aheadMs: 0 };
    const text = new TextDecoder().decode(body);
    return input.as === 'ocsf' ? takeOcsf(ctx, teller, program.id, text) : takeEvents(ctx, teller, text);
  },
});
