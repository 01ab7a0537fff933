const FIRST_MS = 500;
const LONGEST_MS = 30_000;
/** One that ran for so long is well again. */
const WELL_MS = 30_000;
const MOST_IN_A_ROW = 8;

/** How long to wait before what ended is started again: twice as long each time, and not for ever. */
export class Patience {
  #inARow = 0;

  /** Milliseconds to wait after an end, or `undefined` where it ended too often without having run well in between. */
  after(ranMs: number): number | undefined {
    if (ranMs >= WELL_MS) this.#inARow = 0;
    this.#inARow++;
    if (this.#inARow > MOST_IN_A_ROW) return undefined;
    return Math.min(LONGEST_MS, FIRST_MS * 2 ** (this.#inARow - 1));
  }
}
