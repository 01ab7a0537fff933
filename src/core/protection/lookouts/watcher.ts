import type { ActivityEvent } from '../activity/event.ts';
import type { Situation } from '../handling/decision.ts';
import { isWatched, sightMs, type CountedBy, type RaiseWhen, type Watch } from './lookout.ts';
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

/** An act that counts, as it is remembered. Times in milliseconds since 1970. */
export interface Seen {
  readonly id: string;
  readonly at: number;
  /** It led to something that was raised, and counts no more where acts are counted within a time. */
  readonly used: boolean;
}

/** Rarer than this is unusual: once in so many days for one who does what they always do. */
const RARE = 1 / 1000;
/** Fewer are never unusual, however rare. */
const FEWEST = 3;
/** Who has been seen for fewer days is not judged. */
const KNOWN_DAYS = 7;
const DAY = 86_400_000;

/**
 * Sees acts and tells when they raise; an act that is told late counts where it belongs. Keeps what it needs to, and no
 * more.
 */
export class Watcher {
  readonly #memories = new Map<string, Memory>();

  constructor(readonly watch: Watch) {}

  /** Whose acts of this kind are counted together. */
  keyOf(event: ActivityEvent, device: number): string {
    return keyOf(countedBy(this.watch.when), event, device);
  }

  /**
   * What was seen before of one key, the oldest first; of whole days where days are counted, how many there were is
   * enough, by a time on each.
   */
  recall(
    key: string,
    seen: readonly Seen[],
    days: readonly { readonly at: number; readonly count: number }[] = [],
  ): void {
    const memory = memoryFor(this.watch.when);
    for (const act of seen) memory?.keep(act);
    if (memory instanceof DayByDay) for (const { at, count } of days) memory.keepDay(at, count);
    if (memory) this.#memories.set(key, memory);
  }

  see(event: ActivityEvent, device: number, situation: Situation): Raised | undefined {
    if (!isWatched(this.watch, event, situation)) return undefined;
    const key = this.keyOf(event, device);
    const memory = this.#memories.get(key) ?? memoryFor(this.watch.when);
    if (!memory) return { at: event.at, key, events: [event.id], because: 'It was done.' };
    this.#memories.set(key, memory);
    const found = memory.see({ id: event.id, at: Date.parse(event.at), used: false });
    return found && { at: event.at, key, events: found.acts.map((a) => a.id), because: found.because };
  }
}

interface Found {
  readonly acts: readonly Seen[];
  readonly because: string;
}

/** What is remembered of one key. */
interface Memory {
  keep(act: Seen): void;
  /** Those that raise are used by it. */
  see(act: Seen): Found | undefined;
}

function memoryFor(when: RaiseWhen): Memory | undefined {
  switch (when.is) {
    case 'every time':
      return undefined;
    case 'more than':
      return new WithinTime(when.count, when.minutes);
    case 'unusual':
      return new DayByDay(when.days);
  }
}

/** More than `count` within a time; those that raised count no more. */
class WithinTime implements Memory {
  /** The oldest first. */
  #seen: Seen[] = [];
  readonly #span: number;
  readonly #sight: number;

  constructor(
    readonly count: number,
    readonly minutes: number,
  ) {
    this.#span = minutes * 60_000;
    this.#sight = sightMs({ when: { is: 'more than', count, minutes, by: 'person' } });
  }

  keep(act: Seen): number {
    const place = lastPlace(this.#seen, act.at);
    this.#seen.splice(place, 0, act);
    return place;
  }

  see(act: Seen): Found | undefined {
    const place = this.keep(act);
    const found = this.#within(act.at, place);
    const last = this.#seen.at(-1)?.at ?? 0;
    const used = new Set(found?.acts);
    if (found || (this.#seen[0]?.at ?? last) < last - 2 * this.#sight)
      this.#seen = this.#seen.flatMap((s) =>
        s.at < last - this.#sight ? [] : [used.has(s) ? { ...s, used: true } : s],
      );
    return found;
  }

  /** In any window that the act is in: one that came late may complete a window that ends after it. */
  #within(at: number, place: number): Found | undefined {
    const { count, minutes } = this;
    for (let end = place; end < this.#seen.length; end++) {
      const until = this.#seen[end]?.at ?? 0;
      if (until >= at + this.#span) return undefined;
      const acts: Seen[] = [];
      for (let i = end; i >= 0; i--) {
        const s = this.#seen[i];
        if (!s || s.at <= until - this.#span) break;
        if (!s.used) acts.push(s);
      }
      if (acts.length > count)
        return {
          acts: acts.reverse(),
          because: `${acts.length} within ${spanWords(minutes)}; more than ${count} raise.`,
        };
    }
    return undefined;
  }
}

/** More on a day than is usual, once a day. Days by UTC. */
class DayByDay implements Memory {
  readonly #days = new Map<number, { acts: Seen[]; before: number; raised: boolean }>();
  #first = Infinity;

  constructor(readonly days: number) {}

  keep(act: Seen): number {
    const day = Math.floor(act.at / DAY);
    const on = this.#days.get(day) ?? { acts: [], before: 0, raised: false };
    on.acts.splice(lastPlace(on.acts, act.at), 0, act);
    on.raised ||= act.used;
    this.#days.set(day, on);
    this.#first = Math.min(this.#first, day);
    return day;
  }

  /** A day on which there were so many; which they were does not matter. */
  keepDay(at: number, count: number): void {
    const day = Math.floor(at / DAY);
    this.#days.set(day, { acts: [], before: count, raised: false });
    this.#first = Math.min(this.#first, day);
  }

  see(act: Seen): Found | undefined {
    const day = this.keep(act);
    for (const old of this.#days.keys())
      if (old < day - 2 * this.days) {
        this.#days.delete(old);
        this.#first = day - 2 * this.days;
      }
    const on = this.#days.get(day);
    const known = Math.min(this.days, day - this.#first);
    if (!on || on.raised || known < KNOWN_DAYS || on.acts.length < FEWEST) return undefined;
    let sum = 0;
    for (const [d, { acts, before }] of this.#days)
      if (d < day && d >= day - known) sum += acts.length + before;
    // Half an act more than was seen, so that never so far is not never at all.
    const usual = (sum + 0.5) / known;
    const n = on.acts.length;
    const chance = atLeast(n, usual);
    if (chance >= RARE) return undefined;
    on.raised = true;
    return {
      acts: [...on.acts],
      because: `${n} on one day, where ${usual.toFixed(1)} a day are usual (${sum} in ${known} days): by chance once in ${rareWords(chance)} days.`,
    };
  }
}

/** Behind those of the same time, which came before it. */
function lastPlace(seen: readonly Seen[], at: number): number {
  let place = seen.length;
  while (place > 0 && (seen[place - 1]?.at ?? 0) > at) place--;
  return place;
}

export function countedBy(when: RaiseWhen): CountedBy {
  return when.is === 'every time' ? 'person' : when.by;
}

function keyOf(by: CountedBy, event: ActivityEvent, device: number): string {
  return by === 'person' ? event.person : by === 'device' ? `device ${device}` : 'everybody';
}

export function spanWords(minutes: number): string {
  if (minutes % 1440 === 0) return minutes === 1440 ? 'a day' : `${minutes / 1440} days`;
  if (minutes % 60 === 0) return minutes === 60 ? 'an hour' : `${minutes / 60} hours`;
  return minutes === 1 ? 'a minute' : `${minutes} minutes`;
}

function rareWords(chance: number): string {
  const once = 1 / chance;
  return once > 1e6 ? 'more than a million' : Math.floor(once).toLocaleString('en');
}
