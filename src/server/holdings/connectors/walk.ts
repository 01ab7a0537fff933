import { createHash } from 'node:crypto';
import { joinPlace, type Connector, type Listing } from './connector.ts';

/** A place with what lies in it. */
export interface WalkedPlace {
  readonly path: string;
  /** In order. */
  readonly names: readonly string[];
  readonly problem: string | undefined;
  /** How much of the walk is done once it is read, in [0, 1], as far as the places seen so far tell. */
  readonly share: number;
}

export interface Walk {
  /** Where to begin; what comes before it is not listed again. */
  readonly from?: string | undefined;
  /** One of several walks that share a source: each takes some of the places right below it. */
  readonly shard?: Shard | undefined;
  readonly excluded: (place: string) => boolean;
  readonly signal: AbortSignal;
}

export interface Shard {
  readonly index: number;
  readonly of: number;
}

interface Level {
  readonly path: string;
  readonly places: readonly string[];
  at: number;
  /** Of the whole walk: what was behind it as it was opened, and how much it is. */
  readonly before: number;
  readonly weight: number;
}

/**
 * The places of a source, each before those below it, in an order that is the same every time. Places without items are
 * passed over, unless they have a problem. By hand instead of by recursion, since folders may be nested deeper than a
 * stack.
 */
export async function* walkPlaces(connector: Connector, walk: Walk): AsyncGenerator<WalkedPlace> {
  const from = walk.from === undefined || walk.from === '' ? [] : walk.from.split('/');
  const resumed = walk.from !== undefined;
  const levels: Level[] = [];
  const open = async (path: string, before: number, weight: number, depth: number, onTrack: boolean) => {
    const listing = await connector.list(path);
    const skipped = onTrack && depth < from.length ? (from[depth] as string) : undefined;
    const places = placesOf(listing, path, walk).filter((p) => skipped === undefined || p >= skipped);
    levels.push({ path, places, at: 0, before, weight });
    return listing;
  };
  const told = (path: string, listing: Listing, share: number): WalkedPlace | undefined => {
    if (listing.items.length === 0 && !listing.problem) return undefined;
    return { path, names: listing.items.toSorted(), problem: listing.problem, share };
  };
  // Where there are places below, those make up its share.
  const done = (level: Level | undefined, before: number, weight: number) =>
    level && level.places.length > 0 ? before : before + weight;
  const root = await open('', 0, 1, 0, true);
  const mine = walk.shard === undefined || walk.shard.index === 0;
  const first = mine && (!resumed || from.length === 0) ? told('', root, done(levels[0], 0, 1)) : undefined;
  if (first) yield first;
  // Whether the places opened so far are those that lead to where it goes on.
  let onTrack = from.length > 0;
  while (levels.length > 0) {
    if (walk.signal.aborted) return;
    const level = levels.at(-1) as Level;
    const step = level.places[level.at];
    if (step === undefined) {
      levels.pop();
      continue;
    }
    const each = level.weight / level.places.length;
    const before = level.before + each * level.at++;
    const depth = levels.length;
    onTrack &&= step === from[depth - 1];
    const path = joinPlace(level.path, step);
    const listing = await open(path, before, each, depth, onTrack);
    const behind = onTrack && depth < from.length;
    const place = behind ? undefined : told(path, listing, done(levels.at(-1), before, each));
    if (place) yield place;
    if (depth >= from.length) onTrack = false;
  }
}

function placesOf({ places }: Listing, path: string, { excluded, shard }: Walk): readonly string[] {
  return places
    .filter((p) => !excluded(joinPlace(path, p)))
    .filter((p) => !shard || path !== '' || shardOf(p, shard.of) === shard.index)
    .toSorted();
}

function shardOf(step: string, of: number): number {
  return createHash('sha256').update(step).digest().readUInt32BE() % of;
}
