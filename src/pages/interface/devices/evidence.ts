import { z } from 'zod';
import { deviceEndpoint } from '../../../server/protection/devices/device-endpoint.ts';
import { keepEvidence } from '../../../server/protection/evidence/evidence.ts';

/** What a rule has a device keep: sealed bytes, of an event that was told before. */
export const POST = deviceEndpoint({
  input: z.object({
    what: z.enum(['copy', 'quarantine']),
    event: z.string().regex(/^[0-9a-f]{32}$/, '32 hexadecimal digits'),
    rule: z.string().min(1).max(20),
  }),
  run: ({ ctx, who, input, body }) => keepEvidence(ctx, who, input, body),
});
