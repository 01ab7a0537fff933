import type { ActivityEvent } from '../activity/event.ts';
import type { Situation } from '../handling/decision.ts';
import { isWatched, type CountedBy, type Watch } from './lookout.ts';
import { atLeast } from './poisson.ts';

/** What a lookout raises: at an act, for whom, with the acts that led to it, and why. */
export interface Raised {
  readonly at: string;
  /** Whose acts they are: an address, `device 7`, or `everybody`. What has one key has one cause. */
  readonly key: string;
  /** Ids of the acts, the oldest first. */
  readonly events: readonly string[];
  readonly because: string;
}

/** Rarer than this is unusual: once in so many days for one who does what they always do. */
const RARE = 1 / 1000;
/** Fewer are never unusual, however rare. */
const FEWEST = 3;
/** Who has been seen for fewer days is not judged. */
const KNOWN_DAYS = 7;
const DAY = 86_400_000;

interface Seen {
  readonly id: string;
  readonly at: number;
}

/** Sees acts one after the other, the oldest first, and tells when they raise. Keeps what it needs to, and no more. */
export class Watcher {
  readonly #windows = new Map<string, Seen[]>();
  readonly #days = new Map<string, DayCounts>();

  constructor(readonly watch: Watch) {}

  see(event: ActivityEvent, device: number, situation: Situation): Raised | undefined {
    if (!isWatched(this.watch, event, situation)) return undefined;
    const { when } = this.watch;
    switch (when.is) {
      case 'every time':
        return {
          at: event.at,
          key: keyOf('person', event, device),
          events: [event.id],
          because: 'It was done.',
        };
      case 'more than':
        return this.#counted(event, keyOf(when.by, event, device), when);
      case 'unusual':
        return this.#unusual(event, keyOf(when.by, event, device), when.days);
    }
  }

  /** Those that raised do not count again. */
  #counted(
    event: ActivityEvent,
    key: string,
    { count, minutes }: { readonly count: number; readonly minutes: number },
  ): Raised | undefined {
    const at = Date.parse(event.at);
    const window = (this.#windows.get(key) ?? []).filter((s) => s.at > at - minutes * 60_000);
    window.push({ id: event.id, at });
    if (window.length <= count) {
      this.#windows.set(key, window);
      return undefined;
    }
    this.#windows.delete(key);
    return {
      ...{ at: event.at, key, events: window.map((s) => s.id) },
      because: `${window.length} within ${spanWords(minutes)}; more than ${count} raise.`,
    };
  }

  /** Once a day for each. */
  #unusual(event: ActivityEvent, key: string, days: number): Raised | undefined {
    const day = Math.floor(Date.parse(event.at) / DAY);
    const counts: DayCounts = this.#days.get(key) ?? {
      first: day,
      before: new Map(),
      day,
      today: [],
      raised: false,
    };
    if (day > counts.day) {
      counts.before.set(counts.day, counts.today.length);
      for (const old of counts.before.keys()) if (old < day - days) counts.before.delete(old);
      Object.assign(counts, { day, today: [], raised: false });
    }
    counts.today.push(event.id);
    this.#days.set(key, counts);
    const known = Math.min(days, day - counts.first);
    if (counts.raised || known < KNOWN_DAYS || counts.today.length < FEWEST) return undefined;
    const sum = [...counts.before].reduce((n, [d, c]) => n + (d >= day - known ? c : 0), 0);
    // Half an act more than was seen, so that never so far is not never at all.
    const usual = (sum + 0.5) / known;
    const chance = atLeast(counts.today.length, usual);
    if (chance >= RARE) return undefined;
    counts.raised = true;
    return {
      ...{ at: event.at, key, events: [...counts.today] },
      because: `${counts.today.length} on one day, where ${usual.toFixed(1)} a day are usual (${sum} in ${known} days): by chance once in ${rareWords(chance)} days.`,
    };
  }
}

interface DayCounts {
  /** The day they were first seen. */
  readonly first: number;
  readonly before: Map<number, number>;
  day: number;
  today: string[];
  raised: boolean;
}

function keyOf(by: CountedBy, event: ActivityEvent, device: number): string {
  return by === 'person' ? event.person : by === 'device' ? `device ${device}` : 'everybody';
}

function spanWords(minutes: number): string {
  if (minutes % 1440 === 0) return minutes === 1440 ? 'a day' : `${minutes / 1440} days`;
  if (minutes % 60 === 0) return minutes === 60 ? 'an hour' : `${minutes / 60} hours`;
  return minutes === 1 ? 'a minute' : `${minutes} minutes`;
}

function rareWords(chance: number): string {
  const once = 1 / chance;
  return once > 1e6 ? 'more than a million' : Math.floor(once).toLocaleString('en');
}
