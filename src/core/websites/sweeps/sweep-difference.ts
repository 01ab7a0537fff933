import type { Visitor } from '../trackers/visitor.ts';
import { lifetimeWords, trackerKey, type TrackerKey } from '../trackers/tracker.ts';

/** What the difference between two sweeps looks at in each tracker. */
export interface SweptTracker extends TrackerKey {
  readonly purpose: string | null;
  /** The longest lifetime seen, in seconds. */
  readonly lifetime: number | null;
  readonly leaks: readonly Visitor[];
  /** Hosts and paths from the page's own tag to what did it, joined; without lines, which move with every release. */
  readonly cause: string;
}

interface Changed<T> {
  readonly tracker: TrackerKey;
  readonly before: T;
  readonly after: T;
}

/** The difference between two sweeps of one site as a value; every list in the order of the newer sweep. */
export interface SweepDifference {
  readonly added: readonly TrackerKey[];
  readonly gone: readonly TrackerKey[];
  readonly lives: readonly Changed<string>[];
  readonly purposes: readonly Changed<string | null>[];
  readonly causes: readonly Changed<string>[];
  readonly leaksNow: readonly { readonly tracker: TrackerKey; readonly visitors: readonly Visitor[] }[];
  readonly leaksNoMore: readonly { readonly tracker: TrackerKey; readonly visitors: readonly Visitor[] }[];
}

export function sweepDifference(
  before: readonly SweptTracker[],
  after: readonly SweptTracker[],
): SweepDifference {
  const earlier = new Map(before.map((t) => [trackerKey(t), t]));
  const later = new Map(after.map((t) => [trackerKey(t), t]));
  const both = after.flatMap((now) => {
    const was = earlier.get(trackerKey(now));
    return was ? [{ was, now }] : [];
  });
  const changed = <T>(of: (t: SweptTracker) => T): Changed<T>[] =>
    both
      .map(({ was, now }) => ({ tracker: key(now), before: of(was), after: of(now) }))
      .filter((d) => d.before !== d.after);
  return {
    added: after.filter((t) => !earlier.has(trackerKey(t))).map(key),
    gone: before.filter((t) => !later.has(trackerKey(t))).map(key),
    lives: changed((t) => lifetimeWords(t, t.lifetime)),
    purposes: changed((t) => t.purpose),
    causes: changed((t) => t.cause),
    leaksNow: newLeaks(after, earlier),
    leaksNoMore: newLeaks(before, later),
  };
}

export function isNoDifference(d: SweepDifference): boolean {
  return Object.values(d).every((list) => list.length === 0);
}

/** The other way round: what the older sweep would show after the newer. */
export function invertDifference(d: SweepDifference): SweepDifference {
  const turn = <T>(list: readonly Changed<T>[]) =>
    list.map((c) => ({ tracker: c.tracker, before: c.after, after: c.before }));
  return {
    added: d.gone,
    gone: d.added,
    lives: turn(d.lives),
    purposes: turn(d.purposes),
    causes: turn(d.causes),
    leaksNow: d.leaksNoMore,
    leaksNoMore: d.leaksNow,
  };
}

/** Fewer than this share of the usual pages, and a sweep is not to be taken for a clean one. */
export const USUAL_SHARE = 0.6;

/** Why a difference needs a hand, in words for Today; empty where it needs none. */
export function whatMatters(
  d: SweepDifference | undefined,
  pages: number,
  usualPages: number | undefined,
): string {
  const parts: string[] = [];
  if (usualPages !== undefined && pages < usualPages * USUAL_SHARE)
    parts.push(`found ${pages} pages where ${usualPages} are usual`);
  if (d) {
    const count = (n: number, one: string, many: string) =>
      n === 0 ? [] : [n === 1 ? `1 ${one}` : `${n} ${many}`];
    parts.push(...count(d.leaksNow.length, 'new leak', 'new leaks'));
    parts.push(...count(d.added.length, 'new tracker', 'new trackers'));
  }
  return parts.join(', ');
}

/** What leaks in `those` and did not (or was not there) in `others`. */
function newLeaks(those: readonly SweptTracker[], others: ReadonlyMap<string, SweptTracker>) {
  return those
    .map((t) => ({
      tracker: key(t),
      visitors: t.leaks.filter((v) => !others.get(trackerKey(t))?.leaks.includes(v)),
    }))
    .filter((d) => d.visitors.length > 0);
}

function key({ kind, name, host }: TrackerKey): TrackerKey {
  return { kind, name, host };
}
