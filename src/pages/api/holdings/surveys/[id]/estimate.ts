import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { estimateSurvey, surveyObject } from '../../../../../server/holdings/surveys/surveys.ts';

export const POST = endpoint({
  action: 'holdings.survey',
  input: z.object({ id: z.coerce.number().int().positive() }),
  object: surveyObject,
  run: async ({ ctx, account, input }) => ({ run: await estimateSurvey(ctx, account.id, input.id) }),
});
