/** An estimated share and its interval; all three lie in [0, 1]. */
export interface Share {
  readonly share: number;
  readonly low: number;
  readonly high: number;
}

/** The two-sided 95% point of the standard normal distribution. */
const Z95 = 1.959963984540054;

/**
 * Wilson's score interval for `successes` of `trials` (E. B. Wilson, JASA 22, 1927), without continuity correction.
 * `undefined` for no trials. Throws a RangeError for counts that are negative, fractional or more than the trials.
 */
export function wilson(successes: number, trials: number, z: number = Z95): Share | undefined {
  if (
    !Number.isSafeInteger(successes) ||
    !Number.isSafeInteger(trials) ||
    successes < 0 ||
    successes > trials
  )
    throw new RangeError(`${successes} of ${trials} is no count of successes`);
  if (trials === 0) return undefined;
  const p = successes / trials;
  const z2 = (z * z) / trials;
  const centre = (p + z2 / 2) / (1 + z2);
  const half = (z * Math.sqrt((p * (1 - p)) / trials + z2 / (4 * trials))) / (1 + z2);
  return {
    share: p,
    low: successes === 0 ? 0 : Math.max(0, centre - half),
    high: successes === trials ? 1 : Math.min(1, centre + half),
  };
}
