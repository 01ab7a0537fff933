import type { Cause } from '../../../../core/websites/trackers/tracker.ts';
import type { Seen } from '../seen.ts';

/** More than any honest page does; a page over it is cut and says so. */
export const MOST_SEEN = 5000;
const MOST_CHARACTERS = 48_000_000;
const MOST_TIMES = 20;

/** What was seen on one page, as far as it is counted: the same often enough tells nothing new. */
export class SeenList {
  #all: Seen[] = [];
  #characters = 0;
  /** How often the same was seen. */
  readonly #times = new Map<string, number>();
  /** The page did more than is counted. */
  overflowed = false;

  get all(): readonly Seen[] {
    return this.#all;
  }

  add(seen: Seen): void {
    const kind = sameAs(seen);
    const times = (this.#times.get(kind) ?? 0) + 1;
    if (times > MOST_TIMES) return;
    if (this.#times.size < MOST_SEEN) this.#times.set(kind, times);
    const characters = sizeOf(seen);
    if (this.#all.length >= MOST_SEEN || this.#characters + characters > MOST_CHARACTERS) {
      this.overflowed = true;
      return;
    }
    this.#characters += characters;
    this.#all.push(seen);
  }

  /** What a page makes and takes away again within the visit was a trial of the browser, and stays out. */
  takeBack(which: (seen: Seen) => boolean): void {
    this.#all = this.#all.filter((s) => !which(s));
  }

  /** Says who wrote what is stored under `AREA\nKEY`, where nobody said so yet. */
  writtenBy(key: string, cause: readonly Cause[]): void {
    this.#all = this.#all.map((s) =>
      s.what === 'stored' && s.cause.length === 0 && `${s.area}\n${s.key}` === key ? { ...s, cause } : s,
    );
  }

  /** Begins anew, for another page. */
  clear(): void {
    this.forget();
    this.#characters = 0;
    this.#times.clear();
    this.overflowed = false;
  }

  /** As `clear`, but what there was still counts. */
  forget(): void {
    this.#all = [];
  }
}

/** What makes two things that a page did the same. */
function sameAs(seen: Seen): string {
  switch (seen.what) {
    case 'request':
    case 'link':
    case 'bounce':
      return `${seen.what} ${seen.url}`;
    case 'fingerprint':
      return `${seen.what} ${seen.name} ${seen.cause.at(-1)?.url ?? ''}`;
    case 'cookie':
      return `${seen.what} ${seen.domain} ${seen.name} ${seen.by} ${seen.refused}`;
    case 'stored':
      return `${seen.area} ${seen.origin} ${seen.key}`;
  }
}

function sizeOf(seen: Seen): number {
  switch (seen.what) {
    case 'request':
      return seen.url.length + seen.body.length + Object.values(seen.headers).join('').length;
    case 'link':
      return seen.url.length + seen.before.length;
    case 'bounce':
      return seen.url.length;
    case 'fingerprint':
      return seen.name.length;
    case 'cookie':
      return seen.name.length + seen.value.length;
    case 'stored':
      return seen.key.length + seen.value.length;
  }
}
