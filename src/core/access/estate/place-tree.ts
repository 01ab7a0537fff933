import type { PlaceLine } from './estate-line.ts';

/** Places each before those below it, by number from 0; all that is asked of one is an array away. */
export class PlaceTree {
  readonly places: readonly PlaceLine[];
  readonly #numbers = new Map<string, number>();
  /** -1 for one right below its source. */
  readonly parent: Int32Array;
  /** Behind the last of those below. */
  readonly end: Int32Array;
  /** The place itself, or the nearest above it, that takes nothing over from above. */
  readonly region: Int32Array;
  /** How many there are at it and below it that have its region. */
  readonly inRegion: Int32Array;
  /** Ids of places that lie below themselves; they stand right below their source. */
  readonly rings: readonly string[];

  /** Those whose parent is not there stand right below their source. Of several with the same id, the last counts. */
  constructor(lines: readonly PlaceLine[]) {
    const byId = new Map(lines.map((l) => [l.id, l]));
    const above = new Map([...byId.values()].map((l) => [l.id, this.#parentOf(l, byId)]));
    this.rings = cutRings(above);
    const below = new Map<string | null, PlaceLine[]>();
    for (const line of byId.values()) {
      const parent = above.get(line.id) ?? null;
      const of = below.get(parent);
      if (of) of.push(line);
      else below.set(parent, [line]);
    }
    const inOrder = (of: PlaceLine[] | undefined) =>
      (of ?? []).sort(
        (a, b) => compare(a.source, b.source) || compare(nameOf(a), nameOf(b)) || compare(a.id, b.id),
      );
    const n = byId.size;
    this.parent = new Int32Array(n);
    this.end = new Int32Array(n);
    this.region = new Int32Array(n);
    this.inRegion = new Int32Array(n).fill(1);
    const places: PlaceLine[] = [];
    const walk: { readonly at: number; readonly children: readonly PlaceLine[]; next: number }[] = [
      { at: -1, children: inOrder(below.get(null)), next: 0 },
    ];
    while (walk.length > 0) {
      const here = walk.at(-1) as (typeof walk)[number];
      const line = here.children[here.next++];
      if (!line) {
        walk.pop();
        if (here.at >= 0) this.end[here.at] = places.length;
        continue;
      }
      const at = places.push(line) - 1;
      this.#numbers.set(line.id, at);
      this.parent[at] = here.at;
      this.region[at] = here.at < 0 || !line.inherits ? at : (this.region[here.at] as number);
      walk.push({ at, children: inOrder(below.get(line.id)), next: 0 });
    }
    for (let at = n - 1; at >= 0; at--) {
      const up = this.parent[at] as number;
      if (up >= 0 && this.region[at] === this.region[up])
        this.inRegion[up] = (this.inRegion[up] as number) + (this.inRegion[at] as number);
    }
    this.places = places;
  }

  number(id: string): number | undefined {
    return this.#numbers.get(id);
  }

  /** The place and all above it, as far as it takes over what is granted there; the nearest first. */
  chain(at: number): readonly number[] {
    const chain = [at];
    for (let here = at; here !== this.region[at]; chain.push(here)) here = this.parent[here] as number;
    return chain;
  }

  /** All above it; the nearest first. */
  above(at: number): readonly number[] {
    const all: number[] = [];
    for (let here = this.parent[at] as number; here >= 0; here = this.parent[here] as number) all.push(here);
    return all;
  }

  #parentOf({ id, parent, source }: PlaceLine, byId: ReadonlyMap<string, PlaceLine>): string | null {
    if (parent === null || parent === id) return parent;
    const up = byId.get(parent);
    return up && up.source === source ? parent : null;
  }
}

/** Takes the parent away of one place in each ring, the first by id, and names all that are in one. */
function cutRings(above: Map<string, string | null>): readonly string[] {
  const rings: string[] = [];
  const done = new Set<string>();
  for (const start of above.keys()) {
    const path: string[] = [];
    const onPath = new Map<string, number>();
    let here: string | null = start;
    while (here !== null && !done.has(here) && !onPath.has(here)) {
      onPath.set(here, path.push(here) - 1);
      here = above.get(here) ?? null;
    }
    if (here !== null && onPath.has(here)) {
      const ring = path.slice(onPath.get(here)).sort();
      above.set(ring[0] as string, null);
      rings.push(...ring);
    }
    for (const p of path) done.add(p);
  }
  return rings.sort();
}

function nameOf({ name, id }: PlaceLine): string {
  return name ?? id;
}

function compare(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}
