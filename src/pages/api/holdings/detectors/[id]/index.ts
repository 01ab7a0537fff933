import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import {
  DetectorInput,
  detectorObject,
} from '../../../../../server/holdings/detection/detectors/detector-input.ts';
import { openDetector } from '../../../../../server/holdings/detection/detectors/open-detector.ts';
import { removeDetector } from '../../../../../server/holdings/detection/detectors/own-detectors.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: DetectorInput,
  object: detectorObject,
  run: ({ ctx, input }) => openDetector(ctx, input.id),
});

export const DELETE = endpoint({
  action: 'holdings.edit',
  input: DetectorInput.extend({ revision: z.int().nonnegative() }),
  object: detectorObject,
  run: ({ ctx, account, input }) => removeDetector(ctx, account.id, input.id, input.revision),
});
