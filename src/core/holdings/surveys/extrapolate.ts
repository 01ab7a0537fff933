/** What was counted of a source, or is reckoned to be in all of it. */
export interface Counted {
  items: number;
  bytes: number;
  /** Known and unchanged. */
  knownItems: number;
  knownBytes: number;
}

const LEAST = 0.01;

/**
 * The whole of what was counted in a part of a walk: `seen` of it, in [0, 1], where each place right below another is
 * taken to be as large as its siblings (Knuth 1975, estimating the size of a tree). Of less than a hundredth nothing can
 * be reckoned: then it is what was counted, at the least.
 */
export function extrapolate(counted: Counted, seen: number): Counted {
  if (seen < LEAST) return counted;
  const by = (n: number) => Math.round(n / Math.min(1, seen));
  return {
    items: by(counted.items),
    bytes: by(counted.bytes),
    knownItems: by(counted.knownItems),
    knownBytes: by(counted.knownBytes),
  };
}
