/**
 * Confidence is odds, counted in steps: each step up doubles the odds that the match is what it seems, each step down
 * halves them. Steps add, so every confidence can be read back as a sum.
 */
export interface Step {
  /** What spoke for or against, as a person reads it. */
  readonly words: string;
  /** Doublings of the odds; negative against. */
  readonly steps: number;
}

export const BANDS = [
  { name: 'certain', from: 0.95 },
  { name: 'likely', from: 0.75 },
  { name: 'possible', from: 0.4 },
  { name: 'unlikely', from: 0 },
] as const;
export type Band = (typeof BANDS)[number]['name'];

/** Matches below it are not findings, unless a detector says otherwise. */
export const KEEP_FROM = 0.75;

/** A share in [0, 1]: odds 2^steps to 1. Eight steps either way are as sure as it gets. */
export function confidence(steps: number): number {
  const held = Math.max(-8, Math.min(8, steps));
  return 1 / (1 + 2 ** -held);
}

/** The steps that make up a share in (0, 1). */
export function stepsOf(share: number): number {
  return Math.log2(share / (1 - share));
}

export function sumOf(steps: readonly Step[]): number {
  let sum = 0;
  for (const s of steps) sum += s.steps;
  return sum;
}

export function bandOf(share: number): Band {
  return (BANDS.find((b) => share >= b.from) ?? BANDS[3]).name;
}

/** In percent; what is less than sure never reads 100%. */
export function confidenceWords(share: number, digits = 0): string {
  const percent = (share * 100).toFixed(digits).replace(/\.0+$/, '');
  if (Number(percent) < 100 || share === 1) return `${percent}%`;
  return `over ${(100 - 10 ** -digits).toFixed(digits)}%`;
}
