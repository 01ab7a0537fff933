import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import {
  DetectorInput,
  detectorObject,
} from '../../../../../server/holdings/detection/detectors/detector-input.ts';
import { moveDetector } from '../../../../../server/holdings/detection/detectors/own-detectors.ts';

export const POST = endpoint({
  action: 'holdings.put-in-force',
  input: DetectorInput.extend({
    act: z.enum(['rehearse', 'end rehearsal', 'put in force', 'pause', 'resume', 'retire', 'reopen']),
    revision: z.int().nonnegative(),
  }),
  object: detectorObject,
  run: async ({ ctx, account, input }) => ({
    stage: await moveDetector(ctx, account.id, input.id, input.act, input.revision),
  }),
});
