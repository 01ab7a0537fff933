import { endpoint } from '../../../../../server/http/endpoint.ts';
import {
  DetectorInput,
  detectorObject,
} from '../../../../../server/holdings/detection/detectors/detector-input.ts';
import { openDetector } from '../../../../../server/holdings/detection/detectors/open-detector.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: DetectorInput,
  object: detectorObject,
  run: ({ ctx, input }) => openDetector(ctx, input.id),
});
