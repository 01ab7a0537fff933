import { z } from 'zod';
import { AiAct } from '../../../../../core/cases/ai/ai-record.ts';
import { AI_SYSTEM } from '../../../../../server/cases/ai/ai-kind.ts';
import { viewAi } from '../../../../../server/cases/ai/view-ai.ts';
import { actOnDossier } from '../../../../../server/cases/dossiers/dossiers.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

const Id = z.coerce.number().int().min(1);

export const GET = endpoint({
  action: 'cases.dossiers.read',
  input: z.object({ id: Id }),
  run: ({ ctx, input }) => viewAi(ctx, input.id),
});

/** Does something about it; as it stands then. */
export const POST = endpoint({
  action: 'cases.dossiers',
  input: z.object({ id: Id, does: AiAct }),
  run: async ({ ctx, account, input: { id, does } }) => {
    await actOnDossier(ctx, AI_SYSTEM, account, id, does);
    return viewAi(ctx, id);
  },
});
