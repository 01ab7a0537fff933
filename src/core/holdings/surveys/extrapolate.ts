/** What was counted of a source, or is reckoned to be in all of it. */
export interface Counted {
  items: number;
  bytes: number;
  /** Known and unchanged. */
  knownItems: number;
  knownBytes: number;
}

/**
 * The whole of what was counted in a part of a walk: `seen` of it, in [0, 1], where each place right below another is
 * taken to be as large as its siblings (Knuth 1975, estimating the size of a tree). Nothing is reckoned from nothing.
 */
export function extrapolate(counted: Counted, seen: number): Counted {
  const by = (n: number) => Math.round(n / Math.min(1, Math.max(seen, 0.001)));
  return {
    items: by(counted.items),
    bytes: by(counted.bytes),
    knownItems: by(counted.knownItems),
    knownBytes: by(counted.knownBytes),
  };
}
