import type { PlaceLine } from './estate-line.ts';

/** Places each before those below it, by number from 0; all that is asked of one is an array away. */
export class PlaceTree {
  /** The place itself, or the nearest above it, that takes nothing over from above. */
  readonly region: Int32Array;
  /** How many there are at it and below it that have its region. */
  readonly inRegion: Int32Array;

  private constructor(
    readonly places: readonly PlaceLine[],
    readonly numbers: ReadonlyMap<string, number>,
    /** -1 for one right below its source. */
    readonly parent: Int32Array,
    /** Behind the last of those below. */
    readonly end: Int32Array,
    /** Ids of places that lie below themselves; one of each ring stands right below its source. */
    readonly rings: readonly string[],
  ) {
    const n = places.length;
    this.region = new Int32Array(n);
    this.inRegion = new Int32Array(n).fill(1);
    for (let at = 0; at < n; at++) {
      const up = parent[at] as number;
      this.region[at] = up < 0 || !places[at]?.inherits ? at : (this.region[up] as number);
    }
    for (let at = n - 1; at >= 0; at--) {
      const up = parent[at] as number;
      if (up >= 0 && this.region[at] === this.region[up])
        this.inRegion[up] = (this.inRegion[up] as number) + (this.inRegion[at] as number);
    }
  }

  /** Those whose parent is not there stand right below their source. Of several with the same id, the last counts. */
  static of(lines: readonly PlaceLine[]): PlaceTree {
    const byId = new Map(lines.map((l) => [l.id, l]));
    const above = new Map([...byId.values()].map((l) => [l.id, parentOf(l, byId)]));
    const rings = cutRings(above);
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
    const [parent, end] = [new Int32Array(byId.size), new Int32Array(byId.size)];
    const numbers = new Map<string, number>();
    const places: PlaceLine[] = [];
    const walk: { readonly at: number; readonly children: readonly PlaceLine[]; next: number }[] = [
      { at: -1, children: inOrder(below.get(null)), next: 0 },
    ];
    while (walk.length > 0) {
      const here = walk.at(-1) as (typeof walk)[number];
      const line = here.children[here.next++];
      if (!line) {
        walk.pop();
        if (here.at >= 0) end[here.at] = places.length;
        continue;
      }
      const at = places.push(line) - 1;
      numbers.set(line.id, at);
      parent[at] = here.at;
      walk.push({ at, children: inOrder(below.get(line.id)), next: 0 });
    }
    return new PlaceTree(places, numbers, parent, end, rings);
  }

  /** The same places where they are, some of them with other owners or another inheritance. */
  with(changed: ReadonlyMap<number, PlaceLine>): PlaceTree {
    if (changed.size === 0) return this;
    const places = this.places.map((p, at) => changed.get(at) ?? p);
    return new PlaceTree(places, this.numbers, this.parent, this.end, this.rings);
  }

  number(id: string): number | undefined {
    return this.numbers.get(id);
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
}

function parentOf({ id, parent, source }: PlaceLine, byId: ReadonlyMap<string, PlaceLine>): string | null {
  if (parent === null || parent === id) return parent;
  const up = byId.get(parent);
  return up && up.source === source ? parent : null;
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
