import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { surveyNames } from '../../../../server/holdings/surveys/surveys.ts';

/** What can be named in a survey. */
export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({}),
  run: async ({ ctx, account }) => {
    const names = await surveyNames(ctx.store);
    const mine = account.scope?.['source'];
    return mine ? { ...names, sources: names.sources.filter((s) => mine.includes(s.value)) } : names;
  },
});
