/** What work takes in: items, and bytes in all of them. */
export interface Amount {
  readonly items: number;
  readonly bytes: number;
}

/** How long some work took. */
export interface Measured extends Amount {
  readonly seconds: number;
}

/** How long it is likely to take, in seconds: as good as sure (95%) between `low` and `high`. */
export interface TimeEstimate {
  readonly seconds: number;
  readonly low: number;
  readonly high: number;
  /** Works that it was reckoned from; of none, it is a guess. */
  readonly measured: number;
}

/** Seconds an item and seconds a byte. */
export interface Pace {
  readonly perItem: number;
  readonly perByte: number;
}

/** Fewer works than this say little of how they differ. */
const FEW = 3;
const GUESS_FACTOR = 3;

/**
 * How long an amount takes, from what works of the kind took: least squares for seconds an item and seconds a byte,
 * neither below zero, weighted by size so that each work's share of error counts alike. The interval is that of a
 * prediction from the spread of the logarithms of taken over reckoned. With fewer than three works, `guess` decides.
 */
export function estimateTime(amount: Amount, works: readonly Measured[], guess: Pace): TimeEstimate {
  const usable = works.filter((w) => w.seconds > 0 && (w.items > 0 || w.bytes > 0));
  if (usable.length < FEW) {
    const seconds = reckon(amount, guess);
    return { seconds, low: seconds / GUESS_FACTOR, high: seconds * GUESS_FACTOR, measured: 0 };
  }
  const pace = fitPace(usable);
  const seconds = reckon(amount, pace);
  const errors = usable.map((w) => Math.log(w.seconds / Math.max(reckon(w, pace), Number.MIN_VALUE)));
  const mean = errors.reduce((a, b) => a + b, 0) / errors.length;
  const variance = errors.reduce((a, e) => a + (e - mean) ** 2, 0) / (errors.length - 1);
  const spread = studentT95(errors.length - 1) * Math.sqrt(variance * (1 + 1 / errors.length));
  const middle = seconds * Math.exp(mean);
  return {
    seconds: middle,
    low: middle * Math.exp(-spread),
    high: middle * Math.exp(spread),
    measured: usable.length,
  };
}

/** Several works one after the other: errors that have nothing to do with each other partly even out. */
export function sumTimes(parts: readonly TimeEstimate[]): TimeEstimate {
  const total = parts.reduce((n, p) => n + p.seconds, 0);
  const out = (side: (p: TimeEstimate) => number) => Math.sqrt(parts.reduce((n, p) => n + side(p) ** 2, 0));
  return {
    seconds: total,
    low: Math.max(0, total - out((p) => p.seconds - p.low)),
    high: total + out((p) => p.high - p.seconds),
    measured: parts.reduce((n, p) => Math.max(n, p.measured), 0),
  };
}

/** Least squares of seconds ≈ items·a + bytes·b with a, b ≥ 0, each work weighted by 1 ⁄ seconds. */
export function fitPace(works: readonly Measured[]): Pace {
  let ii = 0;
  let ib = 0;
  let bb = 0;
  let is = 0;
  let bs = 0;
  for (const { items, bytes, seconds } of works) {
    const [i, b] = [items / seconds, bytes / seconds];
    ii += i * i;
    ib += i * b;
    bb += b * b;
    is += i;
    bs += b;
  }
  const determinant = ii * bb - ib * ib;
  if (determinant > 1e-12 * ii * bb) {
    const perItem = (is * bb - bs * ib) / determinant;
    const perByte = (bs * ii - is * ib) / determinant;
    if (perItem >= 0 && perByte >= 0) return { perItem, perByte };
  }
  // One of them explains it better alone: whichever leaves less over.
  const alone: readonly Pace[] = [
    { perItem: ii > 0 ? is / ii : 0, perByte: 0 },
    { perItem: 0, perByte: bb > 0 ? bs / bb : 0 },
  ];
  const left = (pace: Pace) => works.reduce((n, w) => n + (1 - reckon(w, pace) / w.seconds) ** 2, 0);
  return alone.reduce((best, pace) => (left(pace) < left(best) ? pace : best));
}

function reckon({ items, bytes }: Amount, { perItem, perByte }: Pace): number {
  return items * perItem + bytes * perByte;
}

/** The 97.5% point of Student's t, for 1, 2, 3 … degrees of freedom. */
const T95 = [12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228];

function studentT95(degrees: number): number {
  return T95[degrees - 1] ?? 1.96 + 2.4 / degrees;
}
