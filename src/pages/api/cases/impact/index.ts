import { z } from 'zod';
import { NEW_IMPACT } from '../../../../core/cases/impact/impact.ts';
import { IMPACT } from '../../../../server/cases/impact/impact-kind.ts';
import { addDossier, listDossiers } from '../../../../server/cases/dossiers/dossiers.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'cases.dossiers.read',
  input: z.object({}),
  run: ({ ctx }) => listDossiers(ctx.store, IMPACT),
});

export const POST = endpoint({
  action: 'cases.dossiers',
  input: z.object({ name: z.string().trim().min(1, 'Give it a name.').max(160) }),
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) =>
      addDossier(tx, ctx, IMPACT, account.id, { ...NEW_IMPACT, name: input.name }),
    ),
  }),
});
