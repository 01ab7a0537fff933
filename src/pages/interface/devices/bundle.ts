import { z } from 'zod';
import { bundleFor, deviceCameIn } from '../../../server/protection/devices/bundles.ts';
import { deviceEndpoint } from '../../../server/protection/devices/device-endpoint.ts';

/** The rules for a device, signed; it tells which it has, what its clock says, and what it cannot do. */
export const GET = deviceEndpoint({
  input: z.object({
    has: z.coerce.number().int().min(0).optional(),
    now: z.iso.datetime().optional(),
    trouble: z.string().max(200).default(''),
  }),
  run: async ({ ctx, who, input }) => {
    await deviceCameIn(ctx, who, { now: input.now, bundle: input.has, trouble: input.trouble });
    return bundleFor(ctx, who);
  },
});
