/** A number that an area can answer for, as a sentence says what it counts. */
export interface FigureWords {
  /** Its area and a name: `websites.leaks`. */
  readonly id: string;
  readonly name: string;
  /** What is counted, and what is not. */
  readonly definition: string;
  /** What one of it is: `tracker`; `%` for a share in [0, 1]. */
  readonly unit: string;
  /** Which way is good. */
  readonly good: 'more' | 'less' | 'neither';
}

/** `null` where there is nothing to count. */
export interface FigureValue {
  readonly value: number | null;
  /** What it is out of. */
  readonly of?: number;
  /** The 95% interval of a share, where it is one of a sample. */
  readonly low?: number;
  readonly high?: number;
}
