import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import { MOST_CARD } from '../../../core/cases/ai/model-card.ts';
import type { Context } from '../../context.ts';
import { askJson } from '../../http/ask-json.ts';
import { AskError, reachable } from '../../http/checked-request.ts';

const Listed = z.object({
  models: z
    .array(
      z.object({
        id: z.string().regex(/^[a-z0-9-]{1,80}$/),
        ...{ name: z.string().max(200), provider: z.string().max(200), task: z.string().max(120) },
        ...{ licence: z.string().max(120), published: z.iso.date() },
      }),
    )
    .max(10_000),
});
export type CatalogueModel = z.infer<typeof Listed>['models'][number];

/** What a catalogue has, the newest first. Throws a RefusedError (409) where it cannot be asked, or there is none. */
export async function catalogueModels(ctx: Context): Promise<readonly CatalogueModel[]> {
  const read = Listed.safeParse(await ask(ctx, '/models'));
  if (!read.success) throw new RefusedError('The catalogue of models sent what cannot be read.', [], 409);
  return read.data.models.toSorted((a, b) => (a.published < b.published ? 1 : -1));
}

/** The card of one, as it is written. Throws a RefusedError (404, 409). */
export async function catalogueCard(ctx: Context, id: string): Promise<string> {
  const read = z
    .object({ card: z.string().max(MOST_CARD) })
    .safeParse(await ask(ctx, `/models/${encodeURIComponent(id)}`));
  if (!read.success) throw new RefusedError('The catalogue of models sent what cannot be read.', [], 409);
  return read.data.card;
}

async function ask({ settings }: Context, path: string): Promise<unknown> {
  if (settings.MODEL_CATALOGUE === '')
    throw new RefusedError(
      'No catalogue of models is set up: an administrator names one with MODEL_CATALOGUE.',
      [],
      409,
    );
  try {
    const url = new URL(path, settings.MODEL_CATALOGUE);
    const { status, body } = await askJson(url, await reachable(settings, url), {
      mostBytes: 4e6,
      patienceMs: 10_000,
    });
    if (status === 404) throw new RefusedError('The catalogue has no such model.', [], 404);
    if (status !== 200) throw new RefusedError(`The catalogue of models answered ${status}.`, [], 409);
    return body;
  } catch (error) {
    if (error instanceof AskError) throw new RefusedError(error.message, [], 409);
    throw error;
  }
}
