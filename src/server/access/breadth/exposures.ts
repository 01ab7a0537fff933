import type { Exposure } from '../../../core/access/breadth/breadth.ts';
import { EVERYTHING } from '../../../core/lens/lens.ts';
import type { Context } from '../../context.ts';
import { askLens, listOwnDetectors } from '../../holdings/offers.ts';
import type { ExposureAnswer, ExposureQuestion } from '../index/exposure-answers.ts';
import { sensitiveDetectors } from './sensitive.ts';

/** What lies in places, each item that a lens shows counted for the nearest of them. */
export async function exposuresOf(
  ctx: Context,
  regions: ExposureQuestion['regions'],
  mayBeOld: boolean,
  lens = EVERYTHING,
): Promise<ExposureAnswer> {
  if (regions.length === 0) return [];
  const question: ExposureQuestion = {
    regions,
    sensitive: sensitiveDetectors(await listOwnDetectors(ctx.store)),
  };
  return (await askLens(ctx, {
    lens,
    today: ctx.now().toISOString(),
    sources: null,
    mayBeOld,
    ask: { what: 'area', area: 'access', question },
  })) as ExposureAnswer;
}

/** What lies at one place and all below it. */
export async function exposureAt(ctx: Context, holds: string | null): Promise<Exposure | null> {
  if (holds === null) return null;
  const [found] = await exposuresOf(ctx, [[0, holds]], true);
  return found?.[1] ?? { items: 0, people: 0, sensitive: 0, data: [] };
}
