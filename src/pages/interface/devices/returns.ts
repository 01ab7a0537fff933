import { z } from 'zod';
import { deviceEndpoint } from '../../../server/protection/devices/device-endpoint.ts';
import { returned, returnsFor } from '../../../server/protection/evidence/evidence.ts';

/** Files that the device is to put back where they were. */
export const GET = deviceEndpoint({
  input: z.object({}),
  run: async ({ ctx, who }) =>
    (await returnsFor(ctx, who)).map(({ id, name, base64 }) => ({ id, name, base64 })),
});

/** It has put one back. */
export const POST = deviceEndpoint({
  input: z.object({ id: z.coerce.number().int().min(1) }),
  run: async ({ ctx, who, input }) => void (await returned(ctx, who, input.id)),
});
