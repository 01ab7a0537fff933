import type { Exposure } from '../../core/access/breadth/breadth.ts';
import { openingAddress } from '../../core/access/sources/access-source.ts';
import type { Context } from '../context.ts';
import { exposureAt } from './breadth/exposures.ts';
import { rankOf } from './breadth/find-breadth.ts';
import { listEvents, type ListedEvent } from './history/access-events.ts';
import { watchOf, type WatchView } from './history/watches.ts';
import { askAccess } from './index/ask-access.ts';
import type { PlaceView } from './index/place-answers.ts';
import { ownId } from './keys.ts';
import { allAccessSources } from './sources/access-sources.ts';

/** All that the sheet of a place opens with. */
export interface PlaceSheet extends PlaceView {
  readonly sourceName: string;
  readonly writes: boolean;
  /** Where one opens it oneself. */
  readonly openedAt: string | null;
  readonly exposure: Exposure | null;
  readonly rank: Awaited<ReturnType<typeof rankOf>>;
  readonly watch: WatchView;
  /** The latest first. */
  readonly events: readonly ListedEvent[];
}

const EVENTS = 6;

export async function placeSheet(ctx: Context, key: string, on: string | undefined): Promise<PlaceSheet> {
  const place = await askAccess(ctx, 'place', { key }, on);
  const source = (await allAccessSources(ctx.store)).find((s) => s.id === place.source);
  // Of a place that is gone by now, its history stands with those above it.
  const isPast = on !== undefined;
  return {
    ...place,
    sourceName: source?.name ?? '',
    writes: source?.content.writes ?? false,
    openedAt: source ? openingAddress(source.content, ownId(place.id)) : null,
    exposure: await exposureAt(ctx, place.holds),
    rank: await rankOf(ctx.store, key),
    watch: isPast ? { days: null, since: null, at: null } : await watchOf(ctx, key),
    events: isPast ? [] : (await listEvents(ctx, { place: key }, undefined, EVENTS)).rows,
  };
}
