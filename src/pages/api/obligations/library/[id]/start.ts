import { z } from 'zod';
import { previewStart } from '../../../../../server/obligations/assessments/start-assessment.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** What starting an assessment would come to: in a cycle that runs, or in a new one. */
export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({ id: z.string().max(80), cycle: z.coerce.number().int().positive().optional() }),
  run: ({ ctx, input }) => previewStart(ctx, input.id, input.cycle ?? null),
});
