import type { Engine } from './engine.ts';
import { MARGIN, Search, type DetectOptions } from './search.ts';
import type { DetectionResult, Finding } from '../detector/finding.ts';

/** Units kept empty behind the text: who reads words looks a little ahead. */
const BEYOND = 16;
/** Units read at once: many, and few enough that the text of them stays among what is young and soon gone. */
export const BLOCK = 112 << 10;

/** Reads a text of any length in pieces, in memory bounded by the largest piece. */
export class TextStream {
  readonly #search: Search;
  #text = '';
  /** From where on `#text` is nothing but ASCII. */
  #plainFrom = 0;
  #units: Uint8Array = new Uint8Array(0);
  /** The offset of `#text` in the whole, and how far in it everything has been read. */
  #base = 0;
  #done = 0;

  constructor(engine: Engine, options: DetectOptions, found: (finding: Finding) => void) {
    this.#search = new Search(engine, options, found);
  }

  /** `units` are the folded units of `text`. */
  push(text: string, units: Uint8Array): void {
    for (let at = 0; at < text.length; at += BLOCK)
      this.#add(text.slice(at, at + BLOCK), units.subarray(at, at + BLOCK), false);
  }

  /** Plain ASCII, of which each byte is a unit; `decode` makes text of it. */
  pushAscii(bytes: Uint8Array, decode: (bytes: Uint8Array) => string): void {
    for (let at = 0; at < bytes.length; at += BLOCK) {
      const block = bytes.subarray(at, at + BLOCK);
      // Text that is nothing but its units need not be put together.
      if (this.#plainFrom === 0) this.#append(decode(this.#grow(block)));
      else this.#add(decode(block), block, true);
    }
  }

  #add(text: string, units: Uint8Array, isAscii: boolean): void {
    const { length } = this.#grow(units.subarray(0, text.length));
    if (!isAscii) this.#plainFrom = length;
    this.#append(this.#text === '' ? text : this.#text + text);
  }

  /** Puts units behind those there are; all of them together. */
  #grow(more: Uint8Array): Uint8Array {
    const before = this.#text.length;
    const length = before + more.length;
    if (this.#units.length < length + BEYOND) {
      const grown = new Uint8Array(length + (length >> 2) + BEYOND);
      grown.set(this.#units.subarray(0, before));
      this.#units = grown;
    }
    this.#units.set(more, before);
    this.#units.fill(0, length, length + BEYOND);
    return this.#units.subarray(0, length);
  }

  #append(text: string): void {
    this.#text = text;
    this.#read(text.length - MARGIN);
  }

  /** UTF-16 units read so far, all told. */
  get length(): number {
    return this.#base + this.#text.length;
  }

  end(): Omit<DetectionResult, 'findings'> {
    this.#read(this.#text.length);
    return this.#search.end();
  }

  #read(to: number): void {
    if (to <= this.#done) return;
    this.#search.read({
      text: this.#text,
      units: this.#units,
      base: this.#base,
      from: this.#done,
      to,
      segments: [],
      isAscii: this.#plainFrom === 0,
    });
    // What is settled late still needs what stands before it.
    const cut = Math.max(0, to - 2 * MARGIN);
    this.#text = this.#text.slice(cut);
    this.#units.copyWithin(0, cut, cut + this.#text.length + BEYOND);
    this.#base += cut;
    this.#plainFrom = Math.max(0, this.#plainFrom - cut);
    this.#done = to - cut;
  }
}
