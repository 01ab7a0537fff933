import { endpoint } from '../../../../../server/http/endpoint.ts';
import {
  DetectorInput,
  detectorObject,
} from '../../../../../server/holdings/detection/detectors/detector-input.ts';
import { queueTraining } from '../../../../../server/holdings/detection/learned/trainings.ts';

export const POST = endpoint({
  action: 'holdings.edit',
  input: DetectorInput,
  object: detectorObject,
  run: ({ ctx, account, input }) => queueTraining(ctx, account.id, input.id),
});
