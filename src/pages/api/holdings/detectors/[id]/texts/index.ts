import { z } from 'zod';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import {
  DetectorInput,
  detectorObject,
} from '../../../../../../server/holdings/detection/detectors/detector-input.ts';
import { TEXT_ROLES } from '../../../../../../server/holdings/detection/detectors/detector-texts.ts';
import { READING } from '../../../../../../server/http/shares.ts';
import { addDetectorText } from '../../../../../../server/holdings/detection/detectors/open-detector.ts';

export const POST = endpoint({
  action: 'holdings.edit',
  input: DetectorInput.extend({
    role: z.enum(TEXT_ROLES),
    of: z.union([
      z.object({ upload: z.int().positive() }),
      z.object({
        name: z.string().trim().min(1).max(260),
        text: z.string().trim().min(1, 'The text is empty').max(400_000),
        origin: z.literal('verdict'),
      }),
    ]),
  }),
  object: detectorObject,
  run: ({ ctx, account, input }) =>
    READING.use(account.id, () => addDetectorText(ctx, account.id, input.id, input.role, input.of)),
});
