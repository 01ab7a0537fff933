import { firstIndex } from '../../../text/first-index.ts';

/** Where clusters of digits stand in a text that is read in order, as far back as it matters. Offsets in the whole text. */
export class DigitRow {
  #starts: number[] = [];
  #ends: number[] = [];

  /** A cluster; one that is told again is taken once. */
  add(from: number, to: number): void {
    const known = this.#ends.at(-1) ?? -1;
    if (to <= known) return;
    this.#starts.push(from);
    this.#ends.push(to);
  }

  /** Whether a digit may stand in [from, to). */
  mayHave(from: number, to: number): boolean {
    const ends = this.#ends;
    const at = firstIndex(0, ends.length, (i) => (ends[i] as number) > from);
    return at < ends.length && (this.#starts[at] as number) < to;
  }

  /** Forgets what ends at `upTo` or before. */
  forget(upTo: number): void {
    const old = this.#ends.findIndex((end) => end > upTo);
    this.#starts = old < 0 ? [] : this.#starts.slice(old);
    this.#ends = old < 0 ? [] : this.#ends.slice(old);
  }
}
