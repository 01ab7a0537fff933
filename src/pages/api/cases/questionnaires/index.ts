import { z } from 'zod';
import { addQuestionnaire, listQuestionnaires } from '../../../../server/cases/vendors/questionnaires.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'cases.dossiers.read',
  input: z.object({}),
  run: ({ ctx }) => listQuestionnaires(ctx.store),
});

/** Begins one with what is shipped. */
export const POST = endpoint({
  action: 'cases.dossiers',
  input: z.object({ name: z.string().trim().min(1, 'Give it a name.').max(120) }),
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) => addQuestionnaire(tx, ctx.now(), account.id, input.name)),
  }),
});
