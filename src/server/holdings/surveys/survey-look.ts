import type { SurveyContent } from '../../../core/holdings/surveys/survey.ts';
import { extrapolate, type Counted } from '../../../core/holdings/surveys/extrapolate.ts';
import type { Context } from '../../context.ts';
import type { LookedPart } from '../../runs/run-kind.ts';
import { connectSource, type Source } from '../sources/sources.ts';
import { sortBatches } from './sort-batches.ts';
import { SurveyReader, takeBatches, type Batch } from './survey-reader.ts';
import type { Sorting } from './survey-step.ts';
import { partName } from './part-name.ts';

/** Looking takes so long at the most; the rest is reckoned. */
const LOOK_MS = 8000;
/** A source with more to read is shared out among as many workers. */
const SHARED_FROM = 2000;
const SHARDS = 4;
/** Names that are looked at together. */
const NAMES = 2000;

/** What there is to read in a source, leaving out what is known and unchanged; no item is opened. */
export async function lookAtSource(
  ctx: Context,
  source: Source,
  survey: SurveyContent,
  sorting: Sorting,
  signal: AbortSignal,
): Promise<readonly LookedPart[]> {
  const connector = await connectSource(ctx, source);
  const counted: Counted = { items: 0, bytes: 0, knownItems: 0, knownBytes: 0 };
  let seen = 1;
  try {
    await connector.check();
    const reader = new SurveyReader(connector, survey, null, signal);
    const begun = Date.now();
    for (let batches = await takeBatches(reader, NAMES); batches.length > 0;) {
      for (const s of await sortBatches(ctx.store, source.id, connector, batches, sorting)) {
        const bytes = s.toRead.reduce((n, r) => n + r.item.size, 0);
        counted.items += s.toRead.length;
        counted.bytes += bytes;
        counted.knownItems += s.items - s.toRead.length;
        counted.knownBytes += s.bytes - bytes;
      }
      if (Date.now() - begun >= LOOK_MS) {
        const last = batches.at(-1) as Batch;
        seen = last.share;
        // Of what lies in the same place the names are known, and no more.
        counted.items += last.left;
        break;
      }
      batches = await takeBatches(reader, NAMES);
    }
  } finally {
    await connector.close();
  }
  const { items, bytes, knownItems: leftItems, knownBytes } = extrapolate(counted, seen);
  // Several at once would each keep to the pace that the source is given.
  const shards = items > SHARED_FROM && source.content.itemsPerSecond === null ? SHARDS : 1;
  const each = (n: number, index: number) => Math.floor(n / shards) + (index < n % shards ? 1 : 0);
  return Array.from({ length: shards }, (_, index): LookedPart => ({
    part: partName(source.id, shards > 1 ? { index, of: shards } : undefined),
    words: shards > 1 ? `${source.name}, ${index + 1} of ${shards}` : source.name,
    items: each(items, index),
    bytes: each(bytes, index),
    leftOut: { items: each(leftItems, index), bytes: each(knownBytes, index), why: 'known and unchanged' },
    ...(seen < 1 ? { seen: Math.max(seen, 0.001) } : {}),
  }));
}
