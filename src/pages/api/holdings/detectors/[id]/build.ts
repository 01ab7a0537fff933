import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import {
  DetectorInput,
  detectorObject,
} from '../../../../../server/holdings/detection/detectors/detector-input.ts';
import { queueBuild } from '../../../../../server/holdings/detection/roster/roster-builds.ts';

export const POST = endpoint({
  action: 'holdings.edit',
  input: DetectorInput.extend({ upload: z.int().positive() }),
  object: detectorObject,
  run: ({ ctx, account, input }) => queueBuild(ctx, account.id, input.id, input.upload),
});
