/** Of two groups, how many did something. */
export interface Counted {
  readonly successes: number;
  readonly trials: number;
}

/** The two-sided p-value of a difference between two shares: the pooled two-proportion z-test. 1 without trials. */
export function differenceByChance(a: Counted, b: Counted): number {
  if (a.trials === 0 || b.trials === 0) return 1;
  const pooled = (a.successes + b.successes) / (a.trials + b.trials);
  const variance = pooled * (1 - pooled) * (1 / a.trials + 1 / b.trials);
  if (variance === 0) return 1;
  const z = Math.abs(a.successes / a.trials - b.successes / b.trials) / Math.sqrt(variance);
  return 2 * (1 - normal(z));
}

/** The standard normal distribution, by Abramowitz and Stegun 26.2.17; off by 7.5e-8 at most. */
function normal(z: number): number {
  const t = 1 / (1 + 0.2316419 * z);
  const tail = [0.31938153, -0.356563782, 1.781477937, -1.821255978, 1.330274429].reduceRight(
    (sum, c) => t * (c + sum),
    0,
  );
  return 1 - (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)) * tail;
}

/**
 * Of a row of counts in their order, those whose share differs from the one before by more than chance: with so many
 * looks, each at 1 % divided by their number (Bonferroni).
 */
export function changedByMoreThanChance(row: readonly Counted[]): readonly boolean[] {
  const looks = Math.max(1, row.length - 1);
  return row.map((c, i) => i > 0 && differenceByChance(row[i - 1] as Counted, c) < 0.01 / looks);
}
