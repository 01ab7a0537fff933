import { gateHoldOf, type GateHold } from '../trackers/fix.ts';
import { requestName, type Cause, type ObservedTracker, type TrackerKey } from '../trackers/tracker.ts';

/** Whether the gate holds what sweeps found by itself, or only what is marked and what somebody told it to hold. */
export const GATE_MODES = ['marked', 'by itself'] as const;
export type GateMode = (typeof GATE_MODES)[number];

export const GATE_MODE_WORDS: Readonly<Record<GateMode, string>> = {
  marked: 'only what is marked in the page, and what somebody told it to hold',
  'by itself': 'what the last sweep found, by what it is for, and what is marked in the page',
};

/** What a tracker is for: `null` where nobody knows. */
export interface Sorted {
  readonly tracker: ObservedTracker;
  readonly purpose: string | null;
  readonly essential: boolean;
}

export interface GatePlan {
  readonly holds: readonly GateHold[];
  /** What goes on whatever a visitor says, and why the gate can do nothing about it. */
  readonly open: readonly { readonly tracker: TrackerKey; readonly why: string }[];
}

/** A place on the way to a tracker where the gate can say no. */
interface Point {
  readonly host: string;
  readonly name: string;
}

/**
 * What the gate holds so that nothing runs before it is allowed, and nothing that is allowed or essential is kept back
 * with it. A tag of another company is held as a whole where all that comes of it is for one purpose; where it serves
 * several, the first step after it that serves one alone, and last the request or the write itself. Tags in `reduced`
 * run before they are allowed: what they ask for goes without identifiers, and what they store is held.
 */
export function gatePlan(
  sorted: readonly Sorted[],
  reduced: readonly Point[] = [],
  /** Of which trackers it is asked; of all by default. */
  of: (tracker: ObservedTracker) => boolean = () => true,
): GatePlan {
  const serves = new Map<string, Set<string>>();
  for (const s of sorted) {
    if (s.purpose === null) continue;
    for (const chain of chainsOf(s.tracker))
      for (const point of chain) {
        const set = serves.get(pointKey(point)) ?? new Set();
        serves.set(pointKey(point), set.add(s.essential ? '' : s.purpose));
      }
  }
  const isReduced = (point: Point) => reduced.some((r) => r.host === point.host && r.name === point.name);
  const holds = new Map<string, GateHold>();
  const open: { tracker: TrackerKey; why: string }[] = [];
  const put = (hold: GateHold) => holds.set(JSON.stringify(hold), hold);
  for (const { tracker, purpose, essential } of sorted) {
    if (essential || !of(tracker)) continue;
    const { kind, name, host } = tracker;
    if (purpose === null) {
      open.push({ tracker: { kind, name, host }, why: 'Nobody has said what it is for.' });
      continue;
    }
    const alone = (point: Point) => serves.get(pointKey(point))?.size === 1;
    let lacking = false;
    for (const chain of chainsOf(tracker)) {
      const tag = chain.find(isReduced);
      const point = tag ? undefined : chain.find(alone);
      if (point) put({ kind: 'request', ...point, purpose });
      else {
        const own = ownHold(tracker, purpose);
        const hold = tag && own?.kind === 'request' ? reducedHold(tracker, own) : own;
        if (hold) put(hold);
        else lacking = true;
      }
    }
    if (lacking) open.push({ tracker: { kind, name, host }, why: WHY_NOT[kind] ?? SERVER });
  }
  return { holds: [...holds.values()], open };
}

/** A tag, and the purpose that somebody said it needs. */
export interface SaidNeed extends Point {
  readonly purpose: string;
  readonly essential: boolean;
}

/**
 * What was found, where somebody's word on a tag goes before how its trackers are sorted: for all that comes by that tag
 * alone. Of two such tags on the way the later one decides.
 */
export function asSaid(sorted: readonly Sorted[], said: readonly SaidNeed[]): readonly Sorted[] {
  const needs = new Map(said.map((n) => [pointKey(n), n]));
  return sorted.map((s) => {
    const chains = chainsOf(s.tracker);
    const decides = chains[0]?.findLast(
      (p) => needs.has(pointKey(p)) && chains.every((c) => c.some((q) => pointKey(q) === pointKey(p))),
    );
    const need = decides && needs.get(pointKey(decides));
    return need ? { ...s, purpose: need.purpose, essential: need.essential } : s;
  });
}

/** Whether some way to a tracker leads by one of these tags. */
export function comesBy(tracker: ObservedTracker, tags: readonly Point[]): boolean {
  return chainsOf(tracker).some((c) => c.some((p) => tags.some((t) => pointKey(t) === pointKey(p))));
}

export const KEPT_KINDS = [
  ...([
    'cookie',
    'local storage',
    'session storage',
    'IndexedDB',
    'cache storage',
    'service worker',
  ] as const),
  'other',
] as const;

/** Names that scripts can take away again once a purpose is withdrawn, and what they cannot reach. */
export interface KeptName {
  readonly kind: (typeof KEPT_KINDS)[number];
  readonly name: string;
  readonly host: string;
  readonly purpose: string;
}

/** What stays in a visitor's browser of each purpose; `other` is out of reach of scripts of the site. */
export function keptNames(sorted: readonly Sorted[], siteHost: string): readonly KeptName[] {
  return sorted.flatMap(({ tracker: { kind, name, host, sightings }, purpose, essential }): KeptName[] => {
    if (essential || purpose === null) return [];
    const own = host === siteHost || siteHost.endsWith(`.${host}`);
    switch (kind) {
      case 'cookie': {
        const reach = own && !sightings.some((s) => s.cookie?.httpOnly);
        return [{ kind: reach ? 'cookie' : 'other', name, host, purpose }];
      }
      case 'local storage':
      case 'session storage':
      case 'IndexedDB':
      case 'cache storage':
      case 'service worker':
        return [{ kind: host === siteHost ? kind : 'other', name, host, purpose }];
      case 'request':
      case 'link decoration':
      case 'bounce':
      case 'fingerprint':
        return [];
    }
  });
}

/** The request or the write itself, without what led to it. */
function ownHold(tracker: ObservedTracker, purpose: string): GateHold | undefined {
  return gateHoldOf({ ...tracker, sightings: tracker.sightings.map((s) => ({ ...s, cause: [] })) }, purpose);
}

/** Goes without what identifies; where that is not a parameter, it has to wait after all. */
function reducedHold(tracker: ObservedTracker, hold: GateHold): GateHold {
  const where = [...new Set(tracker.sightings.flatMap((s) => s.sends.map((x) => x.where)))];
  if (where.some((w) => w === 'path' || w === 'header')) return hold;
  return { ...hold, without: where.filter((w) => w !== 'body').toSorted() };
}

/** The ways that led to a tracker, each as the places of other origins on it, its own request last. */
function chainsOf(tracker: ObservedTracker): Point[][] {
  const chains = new Map<string, Point[]>();
  for (const { cause } of tracker.sightings) {
    const chain = pointsOf(cause);
    if (tracker.kind === 'request') chain.push({ host: tracker.host, name: tracker.name });
    chains.set(chain.map(pointKey).join('\n\n'), chain);
  }
  return [...chains.values()];
}

function pointsOf(cause: readonly Cause[]): Point[] {
  const page = cause[0]?.url ?? '';
  return cause.slice(1).flatMap(({ url }) => {
    if (!URL.canParse(url)) return [];
    const { host, hostname } = new URL(url);
    if (URL.canParse(page) && new URL(page).host === host) return [];
    return [{ host: hostname, name: requestName(new URL(url)) }];
  });
}

function pointKey({ host, name }: Point): string {
  return `${host}\n${name}`;
}

const SERVER = 'The site’s own server sets it before any script runs: it has to be stopped there.';
const WHY_NOT: Readonly<Partial<Record<TrackerKey['kind'], string>>> = {
  'link decoration': 'The site itself writes it into its links.',
  bounce:
    'A link of the site leads through it: mark the link, with where it ends as its href and the way through as data-yare-href.',
  fingerprint: 'The site’s own scripts read it.',
};
