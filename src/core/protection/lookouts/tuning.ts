import type { ActivityEvent } from '../activity/event.ts';
import type { Situation } from '../handling/decision.ts';
import { isWatched, type RaiseWhen, type Watch } from './lookout.ts';
import { Watcher, type Raised } from './watcher.ts';

/** What a lookout would have raised in past activity, and how that changes with what it asks for. */
export interface TuningFigures {
  /** Acts that are watched. */
  readonly acts: number;
  readonly raised: number;
  /** Whose, most often. */
  readonly keys: readonly { readonly key: string; readonly n: number }[];
  readonly byDay: readonly { readonly day: string; readonly count: number }[];
  /** The last ones, the newest first. */
  readonly shown: readonly (Pick<Raised, 'at' | 'key' | 'because'> & {
    readonly acts: number;
    readonly last: string;
  })[];
  /** What other numbers would have come to. */
  readonly others: readonly { readonly count: number; readonly raised: number }[];
}

const SHOWN = 25;
const KEYS = 8;

/** Sees past acts, the oldest first; what was done before `from` (ISO 8601) only counts. */
export class Tuning {
  readonly #main: Watcher;
  readonly #others: readonly { readonly count: number; readonly watcher: Watcher; raised: number }[];
  readonly #raised: Raised[] = [];
  #acts = 0;

  constructor(
    readonly watch: Watch,
    readonly from: string,
  ) {
    this.#main = new Watcher(watch);
    this.#others = otherCounts(watch.when).map((count) => ({
      count,
      watcher: new Watcher({ ...watch, when: { ...watch.when, count } as RaiseWhen }),
      raised: 0,
    }));
  }

  add(event: ActivityEvent, device: number, situation: Situation): void {
    if (!isWatched(this.watch, event, situation)) return;
    const counts = event.at >= this.from;
    if (counts) this.#acts++;
    const raised = this.#main.see(event, device, situation);
    if (raised && counts) this.#raised.push(raised);
    for (const other of this.#others)
      if (other.watcher.see(event, device, situation) && counts) other.raised++;
  }

  figures(): TuningFigures {
    const keys = new Map<string, number>();
    const days = new Map<string, number>();
    const one = (of: Map<string, number>, key: string) => of.set(key, (of.get(key) ?? 0) + 1);
    for (const r of this.#raised) {
      one(keys, r.key);
      one(days, r.at.slice(0, 10));
    }
    return {
      ...{ acts: this.#acts, raised: this.#raised.length },
      keys: [...keys]
        .map(([key, n]) => ({ key, n }))
        .toSorted((a, b) => b.n - a.n || (a.key < b.key ? -1 : 1))
        .slice(0, KEYS),
      byDay: [...days].map(([day, count]) => ({ day, count })).toSorted((a, b) => (a.day < b.day ? -1 : 1)),
      shown: this.#raised
        .slice(-SHOWN)
        .toReversed()
        .map(({ at, key, because, events }) => ({
          ...{ at, key, because, acts: events.length, last: events.at(-1) ?? '' },
        })),
      others: this.#others.map(({ count, raised }) => ({ count, raised })),
    };
  }
}

/** Fewer and more than what it asks for; none where it does not count. */
function otherCounts(when: RaiseWhen): readonly number[] {
  if (when.is !== 'more than') return [];
  const { count } = when;
  return [...new Set([Math.floor(count / 2), count - 1, count + 1, count * 2, count * 4])].filter(
    (n) => n >= 1 && n !== count && n <= 100_000,
  );
}
