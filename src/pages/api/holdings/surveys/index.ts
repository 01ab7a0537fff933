import { z } from 'zod';
import { SURVEY_LIST } from '../../../../core/holdings/surveys/survey-list.ts';
import { SurveyContent } from '../../../../core/holdings/surveys/survey.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addSurvey, listSurveys } from '../../../../server/holdings/surveys/surveys.ts';
import { pageShape } from '../../../../server/lists/list-source.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: z.object(pageShape(SURVEY_LIST)),
  run: ({ ctx, account, input }) => listSurveys(ctx, account, input, input.after, input.size),
});

export const POST = endpoint({
  action: 'holdings.survey',
  input: SurveyContent,
  object: (_ctx, { sources }) => ({
    kind: 'survey',
    id: null,
    within: sources.map((id) => ({ kind: 'source', id })),
  }),
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) => addSurvey(tx, ctx.now(), account.id, input)),
  }),
});
