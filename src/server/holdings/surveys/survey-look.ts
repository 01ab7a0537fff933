import type { SurveyContent } from '../../../core/holdings/surveys/survey.ts';
import { extrapolate, type Counted } from '../../../core/holdings/surveys/extrapolate.ts';
import type { Context } from '../../context.ts';
import type { LookedPart } from '../../runs/run-kind.ts';
import { connectSource, type Source } from '../sources/sources.ts';
import { knownItems } from './known-items.ts';
import { SurveyReader } from './survey-reader.ts';
import { sortItems, type Sorting } from './survey-step.ts';
import { partName } from './part-name.ts';

/** Looking takes so long at the most; the rest is reckoned. */
const LOOK_MS = 8000;
/** A source with more to read is shared out among as many workers. */
const SHARED_FROM = 2000;
const SHARDS = 4;

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
    for (let batch = await reader.next(); batch; batch = await reader.next()) {
      const known = await knownItems(ctx.store, source.id, [
        { path: batch.path, names: batch.names, whole: batch.whole },
      ]);
      const listed = await connector.details(batch.path, batch.names);
      const sorted = sortItems(batch.path, listed, known.get(batch.path)?.items ?? new Map(), sorting);
      counted.items += sorted.toRead.length;
      counted.bytes += sorted.toRead.reduce((n, r) => n + r.item.size, 0);
      counted.knownItems += listed.length - sorted.toRead.length;
      counted.knownBytes +=
        listed.reduce((n, i) => n + i.size, 0) - sorted.toRead.reduce((n, r) => n + r.item.size, 0);
      if (Date.now() - begun < LOOK_MS) continue;
      seen = batch.share;
      break;
    }
  } finally {
    await connector.close();
  }
  const { items, bytes, knownItems: leftItems, knownBytes } = extrapolate(counted, seen);
  const shards = items > SHARED_FROM ? SHARDS : 1;
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
