import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { surveyObject } from '../../../../../server/holdings/surveys/surveys.ts';
import { viewSurvey } from '../../../../../server/holdings/surveys/survey-view.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ id: z.coerce.number().int().positive() }),
  object: surveyObject,
  run: ({ ctx, input }) => viewSurvey(ctx, input.id),
});
