/** How failures make whoever tries wait. */
export interface Growth {
  /** Failures that cost no wait. */
  readonly free: number;
  /** Seconds, at the most. */
  readonly most: number;
}

/** Seconds from the last failure until the next attempt: 2 after the first that counts, then twice as long each time. */
export function growingWait(failures: number, { free, most }: Growth): number {
  return failures < free ? 0 : Math.min(most, 2 ** Math.min(30, failures - free + 1));
}
