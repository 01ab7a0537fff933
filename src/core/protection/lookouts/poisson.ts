/**
 * How likely `count` or more are where `mean` are usual: the upper tail of a Poisson distribution, in [0, 1]. Throws a
 * RangeError for a mean that is negative or no number, or a count that is no whole one.
 */
export function atLeast(count: number, mean: number): number {
  if (!(mean >= 0) || !Number.isFinite(mean)) throw new RangeError(`${mean} is no mean`);
  if (!Number.isSafeInteger(count)) throw new RangeError(`${count} is no count`);
  if (count <= 0) return 1;
  if (mean === 0) return 0;
  // Of the shorter side: the tail itself where it is far out, so that small chances keep their digits.
  if (count > mean) {
    let term = Math.exp(count * Math.log(mean) - mean - logFactorial(count));
    let sum = 0;
    for (let k = count; term > sum * 1e-16; k++, term *= mean / k) sum += term;
    return Math.min(1, sum);
  }
  let term = Math.exp(-mean);
  let sum = 0;
  for (let k = 0; k < count; k++) {
    sum += term;
    term *= mean / (k + 1);
  }
  return Math.max(0, 1 - sum);
}

/** Stirling’s series where it is exact to a double’s digits, the sum below. */
function logFactorial(n: number): number {
  if (n < 30) {
    let sum = 0;
    for (let k = 2; k <= n; k++) sum += Math.log(k);
    return sum;
  }
  return n * Math.log(n) - n + 0.5 * Math.log(2 * Math.PI * n) + 1 / (12 * n) - 1 / (360 * n ** 3);
}
