import { z } from 'zod';
import { ImpactAct } from '../../../../../core/cases/impact/impact-act.ts';
import { IMPACT } from '../../../../../server/cases/impact/impact-kind.ts';
import { viewImpact } from '../../../../../server/cases/impact/view-impact.ts';
import { actOnDossier } from '../../../../../server/cases/dossiers/dossiers.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

const Id = z.coerce.number().int().min(1);

export const GET = endpoint({
  action: 'cases.dossiers.read',
  input: z.object({ id: Id }),
  run: ({ ctx, account, input }) => viewImpact(ctx, account, input.id),
});

/** Does something about it; as it stands then. */
export const POST = endpoint({
  action: 'cases.dossiers',
  input: z.object({ id: Id, does: ImpactAct }),
  run: async ({ ctx, account, input: { id, does } }) => {
    await actOnDossier(ctx, IMPACT, account, id, does);
    return viewImpact(ctx, account, id);
  },
});
