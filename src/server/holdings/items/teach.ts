import type { Account } from '../../../core/accounts/authority.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { LIMITS } from '../../files/extract/extracted.ts';
import { READING } from '../../http/shares.ts';
import { addDetectorText } from '../detection/detectors/open-detector.ts';
import { findOwnDetector } from '../detection/detectors/own-detectors.ts';
import { detectorPool } from '../detection/threads/shared-threads.ts';
import { fetchItem } from './item-text.ts';
import { findItem } from './item-view.ts';

/** What an example is cut to, in UTF-16 units; what a document is shows long before. */
const MOST_UNITS = 400_000;

/**
 * Gives a learned detector a judged document as an example of its kind, or of what is not: it counts at the next training.
 * The text is read again from its source, and kept sealed. Throws a RefusedError where there is nothing to learn from.
 */
export async function teachWith(
  ctx: Context,
  account: Account,
  id: number,
  { detector, holds }: { readonly detector: string; readonly holds: boolean },
): Promise<{ readonly was: string }> {
  const own = await findOwnDetector(ctx.store, detector);
  if (own?.content.kind !== 'learned')
    throw new RefusedError('This detector does not learn from examples.', [
      { field: 'detector', message: 'Choose one that is learned.' },
    ]);
  const item = await findItem(ctx.store, id);
  const { text } = await READING.use(account.id, async () => {
    const { bytes, name } = await fetchItem(ctx, item);
    return detectorPool().run({ what: 'text', bytes, name, most: MOST_UNITS, limits: LIMITS }, 30_000);
  });
  if (text.trim() === '')
    throw new RefusedError('There is no text in it to learn from.', [
      { field: 'id', message: 'Choose another document.' },
    ]);
  const { was } = await addDetectorText(ctx, account.id, detector, holds ? 'example' : 'counter-example', {
    name: item.title ?? item.name,
    text,
    origin: 'verdict',
  });
  return { was };
}
