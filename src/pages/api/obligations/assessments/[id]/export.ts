import { z } from 'zod';
import { assessmentObject } from '../../../../../server/obligations/assessments/assessment-object.ts';
import {
  exportAssessment,
  PROOF_FORMS,
} from '../../../../../server/obligations/assessments/export-assessment.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** What was done, by whom, tested by whom, with the digests of evidence. */
export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({
    id: z.coerce.number().int().positive().max(4_294_967_295),
    as: z.enum(PROOF_FORMS),
  }),
  object: assessmentObject,
  run: ({ ctx, input }) => exportAssessment(ctx, input.id, input.as),
});
