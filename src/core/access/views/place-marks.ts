import type { Estate } from '../estate/estate.ts';

/**
 * What a place has of its own: `own` where it takes nothing over from above, `adds` where it takes that over and is given more,
 * `inherits` where nothing is said at it. In a file system every place has bits of its own; it is `own` where they differ from
 * those of the folder that it lies in.
 */
export type PlaceMark = 'own' | 'adds' | 'inherits';

/** What places have of their own, and where something below them has. */
export class PlaceMarks {
  /** Places with something of their own, in order. */
  readonly #own: Uint32Array;

  constructor(readonly estate: Estate) {
    const own: number[] = [];
    for (const at of estate.tree.places.keys()) if (this.mark(at) !== 'inherits') own.push(at);
    this.#own = Uint32Array.from(own);
  }

  mark(at: number): PlaceMark {
    const { tree, grants, links } = this.estate;
    const place = tree.places[at];
    if (!place) return 'inherits';
    const up = tree.parent[at] as number;
    if (place.posix) {
      const above = tree.places[up]?.posix;
      const { is: _, ...own } = place.posix;
      if (!above) return 'own';
      const { is: __, ...theirs } = above;
      return JSON.stringify(own) === JSON.stringify(theirs) ? 'inherits' : 'own';
    }
    if (up < 0 || !place.inherits) return 'own';
    const adds = (grants.get(at)?.length ?? 0) + (links.get(at)?.length ?? 0) > 0 || place.owner !== null;
    return adds ? 'adds' : 'inherits';
  }

  /** How many below a place have something of their own. */
  below(at: number): number {
    const end = this.estate.tree.end[at] as number;
    return this.#from(end) - this.#from(at + 1);
  }

  /** Those below, from a place on, in order. */
  listBelow(at: number, most: number, from = at + 1): readonly number[] {
    const end = this.estate.tree.end[at] as number;
    const first = this.#from(Math.max(at + 1, from));
    return [...this.#own.subarray(first, Math.min(first + most, this.#from(end)))];
  }

  get count(): number {
    return this.#own.length;
  }

  /** The first of them that is not before a place. */
  #from(at: number): number {
    let [low, high] = [0, this.#own.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((this.#own[middle] as number) < at) low = middle + 1;
      else high = middle;
    }
    return low;
  }
}
