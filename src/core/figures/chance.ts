import { differenceByChance, type Counted } from '../two-shares.ts';

/** Fewer than so many expected in a cell, and the test of Fisher is exact where the normal one is not. */
const FEW_EXPECTED = 5;
const MOST_EXACT = 20_000;

/**
 * How likely two shares differ at least so much where nothing changed, in [0, 1]; two-sided. By Fisher's exact test
 * where few are expected, else by the pooled z-test.
 */
export function sharesByChance(a: Counted, b: Counted): number {
  const all = a.trials + b.trials;
  const successes = a.successes + b.successes;
  if (a.trials === 0 || b.trials === 0) return 1;
  const least = (Math.min(successes, all - successes) * Math.min(a.trials, b.trials)) / all;
  return least < FEW_EXPECTED && all <= MOST_EXACT ? fisher(a, b) : differenceByChance(a, b);
}

/** The sum of all tables with these margins that are no more likely than this one. R. A. Fisher, 1935. */
function fisher(a: Counted, b: Counted): number {
  const successes = a.successes + b.successes;
  const chance = (k: number) =>
    logChoose(a.trials, k) + logChoose(b.trials, successes - k) - logChoose(a.trials + b.trials, successes);
  return tail(chance, Math.max(0, successes - b.trials), Math.min(a.trials, successes), a.successes);
}

/**
 * How likely two counts of events that happen by themselves differ at least so much over equally long times where
 * nothing changed; two-sided. Given their sum one of them is binomial with a half (Przyborowski and Wilenski, 1940).
 */
export function countsByChance(a: number, b: number): number {
  const all = a + b;
  if (all === 0) return 1;
  if (all > MOST_EXACT)
    return differenceByChance({ successes: a, trials: all }, { successes: b, trials: all });
  return tail((k) => logChoose(all, k) - all * Math.LN2, 0, all, a);
}

/** The sum of what is no more likely than what was seen; `chance` in logarithms. */
function tail(chance: (k: number) => number, low: number, high: number, seen: number): number {
  const most = chance(seen) + 1e-7;
  let sum = 0;
  for (let k = low; k <= high; k++) {
    const one = chance(k);
    if (one <= most) sum += Math.exp(one);
  }
  return Math.min(1, sum);
}

const logs: number[] = [0, 0];
function logFactorial(n: number): number {
  for (let i = logs.length; i <= n; i++) logs[i] = (logs[i - 1] ?? 0) + Math.log(i);
  return logs[n] ?? 0;
}

function logChoose(n: number, k: number): number {
  return logFactorial(n) - logFactorial(k) - logFactorial(n - k);
}
