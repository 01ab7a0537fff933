import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { findBuiltIn, tryDetectors } from '../../../server/holdings/trial.ts';

export const POST = endpoint({
  action: 'holdings.read',
  input: z.object({
    /** One detector alone; all of them where it is left out. */
    detector: z.string().optional(),
    of: z.union([
      z.object({ text: z.string().max(400_000, 'At most 400,000 characters at once') }),
      z.object({ name: z.string().max(260), base64: z.base64('Send the file in base64') }),
    ]),
  }),
  run: ({ input: { detector, of } }) => {
    if (detector !== undefined) findBuiltIn(detector);
    return tryDetectors(
      'text' in of ? of : { name: of.name, bytes: Buffer.from(of.base64, 'base64') },
      detector,
    );
  },
});
