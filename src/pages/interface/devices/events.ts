import { z } from 'zod';
import { deviceCameIn } from '../../../server/protection/devices/bundles.ts';
import { deviceEndpoint } from '../../../server/protection/devices/device-endpoint.ts';
import { takeEvents } from '../../../server/protection/activity/take-events.ts';

/** What was done on a device: a JSON value a line. Answered once it is committed. */
export const POST = deviceEndpoint({
  input: z.object({ now: z.iso.datetime().optional(), has: z.coerce.number().int().min(0).optional() }),
  run: async ({ ctx, who, input, body }) => {
    const { aheadMs } = await deviceCameIn(ctx, who, {
      ...{ now: input.now, bundle: input.has, trouble: who.trouble },
    });
    return takeEvents(
      ctx,
      { kinds: ['device'], device: who.id, person: who.person, aheadMs },
      new TextDecoder().decode(body),
    );
  },
});
