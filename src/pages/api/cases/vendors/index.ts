import { z } from 'zod';
import { NEW_VENDOR } from '../../../../core/cases/vendors/vendor.ts';
import { VENDOR } from '../../../../server/cases/vendors/vendor-kind.ts';
import { addDossier, listDossiers } from '../../../../server/cases/dossiers/dossiers.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'cases.dossiers.read',
  input: z.object({}),
  run: ({ ctx }) => listDossiers(ctx.store, VENDOR),
});

export const POST = endpoint({
  action: 'cases.dossiers',
  input: z.object({ name: z.string().trim().min(1, 'Give it a name.').max(160) }),
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) =>
      addDossier(tx, ctx, VENDOR, account.id, { ...NEW_VENDOR, name: input.name }),
    ),
  }),
});
