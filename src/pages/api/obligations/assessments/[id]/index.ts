import { z } from 'zod';
import { assessmentObject } from '../../../../../server/obligations/assessments/assessment-object.ts';
import { viewAssessment } from '../../../../../server/obligations/assessments/assessment-view.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({ id: z.coerce.number().int().positive().max(4_294_967_295) }),
  object: assessmentObject,
  run: ({ ctx, input }) => viewAssessment(ctx, input.id),
});
