/** The same row of choices for the same seed. */
export interface Chance {
  /** A whole number in [0, n). */
  readonly below: (n: number) => number;
  readonly pick: <T>(all: readonly T[]) => T;
  readonly digits: (count: number) => string;
  /** Tries until something comes of it. */
  readonly until: (make: () => string | false) => string;
}

export function chanceOf(seed: number): Chance {
  let state = seed;
  const below = (n: number) => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) % n;
  };
  return {
    below,
    pick: (all) => all[below(all.length)] as (typeof all)[number],
    digits: (count) => Array.from({ length: count }, () => below(10)).join(''),
    until: (make) => {
      for (let n = 0; n < 10_000; n++) {
        const made = make();
        if (made !== false) return made;
      }
      throw new Error('Nothing came of ten thousand tries.');
    },
  };
}
