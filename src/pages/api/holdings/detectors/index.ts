import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import {
  addDetector,
  NewDetectorInput,
} from '../../../../server/holdings/detection/detectors/new-detector.ts';
import { listOwnDetectors } from '../../../../server/holdings/detection/detectors/own-detectors.ts';
import { listBuiltIn } from '../../../../server/holdings/detection/detectors/trial.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({}),
  run: async ({ ctx }) => ({ builtIn: listBuiltIn(), own: await listOwnDetectors(ctx.store) }),
});

export const POST = endpoint({
  action: 'holdings.edit',
  input: NewDetectorInput,
  run: ({ ctx, account, input }) => addDetector(ctx, account.id, input),
});
