import { z } from 'zod';
import { DeviceTold } from '../../../core/protection/devices/device.ts';
import { tokenEndpoint } from '../../../server/http/program-endpoint.ts';
import { parseJson } from '../../../server/http/read-limited.ts';
import { enrolDevice, enrolmentOf } from '../../../server/protection/devices/devices.ts';

/** A device comes in by a token that was given out for it. */
export const POST = tokenEndpoint({
  who: enrolmentOf,
  name: ({ id }) => `enrolment ${id}`,
  input: z.object({}),
  run: ({ ctx, who, body }) => enrolDevice(ctx, who.id, DeviceTold.parse(parseJson(Buffer.from(body)))),
});
