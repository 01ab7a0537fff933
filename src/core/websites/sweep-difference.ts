import type { Visitor } from './visitor.ts';
import { lifetimeWords, trackerKey, type TrackerKey } from './tracker.ts';

/** What the difference between two sweeps looks at in each tracker. */
export interface SweptTracker extends TrackerKey {
  readonly purpose: string | null;
  /** The longest lifetime seen, in seconds. */
  readonly lifetime: number | null;
  readonly leaks: readonly Visitor[];
}

/** The difference between two sweeps of one site as a value; every list in the order of the newer sweep. */
export interface SweepDifference {
  readonly added: readonly TrackerKey[];
  readonly gone: readonly TrackerKey[];
  readonly lives: readonly {
    readonly tracker: TrackerKey;
    readonly before: string;
    readonly after: string;
  }[];
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
  return {
    added: after.filter((t) => !earlier.has(trackerKey(t))).map(key),
    gone: before.filter((t) => !later.has(trackerKey(t))).map(key),
    lives: both
      .map(({ was, now }) => ({
        tracker: key(now),
        before: lifetimeWords(was, was.lifetime),
        after: lifetimeWords(now, now.lifetime),
      }))
      .filter((d) => d.before !== d.after),
    leaksNow: newLeaks(after, earlier),
    leaksNoMore: newLeaks(before, later),
  };
}

export function isNoDifference(d: SweepDifference): boolean {
  return Object.values(d).every((list) => list.length === 0);
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
