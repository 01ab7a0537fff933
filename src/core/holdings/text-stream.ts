import type { Engine } from './engine.ts';
import { MARGIN, Session, type DetectOptions } from './session.ts';
import type { DetectionResult, Finding } from './finding.ts';

/** Units kept empty behind the text: who reads words looks a little ahead. */
const BEYOND = 16;
/** Units read at once: what is put together of them stays small and young. */
const BLOCK = 1 << 16;

/** Reads a text of any length in pieces, in memory bounded by the largest piece. */
export class TextStream {
  readonly #session: Session;
  #text = '';
  #units: Uint8Array = new Uint8Array(0);
  /** The offset of `#text` in the whole, and how far in it everything has been read. */
  #base = 0;
  #done = 0;

  constructor(engine: Engine, options: DetectOptions, found: (finding: Finding) => void) {
    this.#session = new Session(engine, options, found);
  }

  /** `units` are the folded units of `text`. */
  push(text: string, units: Uint8Array): void {
    for (let at = 0; at < text.length; at += BLOCK)
      this.#add(text.slice(at, at + BLOCK), units.subarray(at, at + BLOCK));
  }

  #add(text: string, units: Uint8Array): void {
    const before = this.#text.length;
    this.#text = before === 0 ? text : this.#text + text;
    const { length } = this.#text;
    if (this.#units.length < length + BEYOND) {
      const grown = new Uint8Array(length + (length >> 2) + BEYOND);
      grown.set(this.#units.subarray(0, before));
      this.#units = grown;
    }
    this.#units.set(units.subarray(0, text.length), before);
    this.#units.fill(0, length, length + BEYOND);
    this.#read(this.#text.length - MARGIN);
  }

  /** UTF-16 units read so far, all told. */
  get length(): number {
    return this.#base + this.#text.length;
  }

  end(): Omit<DetectionResult, 'findings'> {
    this.#read(this.#text.length);
    return this.#session.end();
  }

  #read(to: number): void {
    if (to <= this.#done) return;
    this.#session.read({
      text: this.#text,
      units: this.#units,
      base: this.#base,
      from: this.#done,
      to,
      segments: [],
    });
    // What is settled late still needs what stands before it.
    const cut = Math.max(0, to - 2 * MARGIN);
    this.#text = this.#text.slice(cut);
    this.#units.copyWithin(0, cut, cut + this.#text.length + BEYOND);
    this.#base += cut;
    this.#done = to - cut;
  }
}
