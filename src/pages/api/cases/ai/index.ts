import { z } from 'zod';
import { readCard } from '../../../../core/cases/ai/model-card.ts';
import { fromCard, NEW_AI } from '../../../../core/cases/ai/ai-system.ts';
import { AI_SYSTEM } from '../../../../server/cases/ai/ai-kind.ts';
import { catalogueCard } from '../../../../server/cases/ai/catalogue.ts';
import { addDossier, listDossiers } from '../../../../server/cases/dossiers/dossiers.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'cases.dossiers.read',
  input: z.object({}),
  run: ({ ctx }) => listDossiers(ctx.store, AI_SYSTEM),
});

/** Begins one by its name, from its card, or from its card in the catalogue. */
export const POST = endpoint({
  action: 'cases.dossiers',
  input: z.object({
    name: z.string().trim().max(160).default(''),
    card: z.string().max(1_000_000).default(''),
    catalogue: z.string().max(80).default(''),
  }),
  run: async ({ ctx, account, input: { name, card, catalogue } }) => {
    const text = catalogue === '' ? card : await catalogueCard(ctx, catalogue);
    const content = text.trim() === '' ? { ...NEW_AI, name } : fromCard(readCard(text));
    const whole = AI_SYSTEM.content.parse({ ...content, name: name || content.name });
    return { id: await ctx.store.transaction((tx) => addDossier(tx, ctx, AI_SYSTEM, account.id, whole)) };
  },
});
