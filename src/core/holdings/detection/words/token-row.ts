import { firstFrom } from '../../../text/first-index.ts';
import type { Tokens } from './token.ts';
import { NEITHER } from './unit-kind.ts';
import type { Beginnings } from './beginnings.ts';
import { aboutUnit, isWord, type Lexicon, type TokenColumns } from './lexicon.ts';

/** Tokens in [low, high) of a row. */
export interface TokenSpan {
  readonly tokens: Tokens;
  readonly low: number;
  readonly high: number;
}

/** Units read at once beyond those asked for. */
const AHEAD = 6;
/** What is farther off is another part of the text. */
const FARTHEST = 32;
const LONGEST_WORD = 256;
/** Units of one part at most. */
const WIDEST = 1 << 10;
/** Index of the first token of a part, with room before it and behind it for all there can be. */
const MIDDLE = 4 * WIDEST;

/**
 * The tokens of one part of a text, read once for all who ask for stretches of it; it moves along with them. What was
 * given before it moved is good no more: `part` tells.
 */
export class TokenRow implements Tokens, TokenColumns {
  readonly starts = new Int32Array(2 * MIDDLE);
  readonly ends = new Int32Array(2 * MIDDLE);
  readonly begins = new Int32Array(2 * MIDDLE);
  /** By the number of a set of phrases: the last part in which a phrase of it may begin. */
  readonly #begun: Int32Array;
  #text = '';
  #units: Uint8Array = new Uint8Array(0);
  #part = 0;
  #low = MIDDLE;
  #high = MIDDLE;
  #from = 0;
  #to = 0;

  constructor(readonly lexicon: Lexicon) {
    this.#begun = new Int32Array(lexicon.sets);
  }

  /** Takes up another text. `units` are its folded units. */
  take(text: string, units: Uint8Array): void {
    this.#text = text;
    this.#units = units;
    this.#moveTo(0);
  }

  /** The number of the part that it is in now. */
  get part(): number {
    return this.#part;
  }

  start(i: number): number {
    return this.starts[i] as number;
  }

  end(i: number): number {
    return this.ends[i] as number;
  }

  word(i: number): string {
    return this.#text.slice(this.starts[i], this.ends[i]).toLowerCase();
  }

  beginnings(i: number): Beginnings | null {
    const place = this.begins[i] as number;
    return place === 0 ? null : this.lexicon.beginningsAt(place);
  }

  /** Whether a phrase of the set may begin with any token of this part that was read so far. */
  hasBegun(set: number): boolean {
    return this.#begun[set] === this.#part;
  }

  /** As `hasBegun`, of any of them. */
  hasBegunAny(sets: readonly number[]): boolean {
    const begun = this.#begun;
    const part = this.#part;
    for (const set of sets) if (begun[set] === part) return true;
    return false;
  }

  /** The tokens that begin in [from, to); `undefined` where that is too far, or one crosses an end that is said to be `sharp`. */
  within(from: number, to: number, sharpFrom: boolean, sharpTo: boolean): TokenSpan | undefined {
    if (from >= to) return { tokens: this, low: 0, high: 0 };
    if (to - from > WIDEST) return undefined;
    if ((sharpFrom && this.#isWithin(from)) || (sharpTo && this.#isWithin(to))) return undefined;
    this.#reach(from, to);
    return { tokens: this, low: this.#firstFrom(from), high: this.#firstFrom(to) };
  }

  /** The index of the first token that begins at `offset` or later. */
  #firstFrom(offset: number): number {
    return firstFrom(this.starts, this.#low, this.#high, offset);
  }

  /** Whether a word stands on both sides of `at`. */
  #isWithin(at: number): boolean {
    if (at <= 0 || at >= this.#text.length) return false;
    const kind = aboutUnit(this.#text, this.#units, at) >> 16;
    return kind !== NEITHER && kind === aboutUnit(this.#text, this.#units, at - 1) >> 16;
  }

  #moveTo(at: number): void {
    this.#part++;
    this.#low = this.#high = MIDDLE;
    this.#from = this.#to = at;
  }

  #reach(from: number, to: number): void {
    const far = from > this.#to + FARTHEST || to < this.#from - FARTHEST;
    const wide = Math.max(to, this.#to) - Math.min(from, this.#from) > WIDEST;
    if (this.#low === this.#high || far || wide) this.#moveTo(this.#edge(from, -1));
    if (to > this.#to) this.#readOn(this.#edge(to + AHEAD, 1));
    if (from < this.#from) this.#readBack(this.#edge(from - AHEAD, -1));
  }

  /** `at`, or where the word that it stands in begins or ends. */
  #edge(at: number, way: -1 | 1): number {
    let edge = Math.max(0, Math.min(this.#text.length, at));
    for (let n = 0; n < LONGEST_WORD && this.#isWithin(edge); n++) edge += way;
    return edge;
  }

  #readOn(to: number): void {
    const first = this.#high;
    this.#high = this.lexicon.read(this.#text, this.#units, this.#to, to, this, first);
    this.#to = to;
    this.#note(first, this.#high);
  }

  #readBack(from: number): void {
    // Read behind the others, and then moved to their front.
    const end = this.lexicon.read(this.#text, this.#units, from, this.#from, this, this.#high);
    const count = end - this.#high;
    const low = this.#low - count;
    for (const column of [this.starts, this.ends, this.begins]) column.copyWithin(low, this.#high, end);
    this.#low = low;
    this.#from = from;
    this.#note(low, low + count);
  }

  /** Takes note of the sets of which a phrase may begin with one of the tokens. */
  #note(from: number, to: number): void {
    const part = this.#part;
    const begun = this.#begun;
    for (let i = from; i < to; i++) {
      const place = this.begins[i] as number;
      if (place === 0) continue;
      const { alone, followed } = this.lexicon.beginningsAt(place);
      for (const set of alone) begun[set] = part;
      for (const { next, sets } of followed)
        if (this.#mayBe(i + 1, next)) for (const set of sets) begun[set] = part;
    }
  }

  /** Whether token `i` may be the word: what has not been read yet is not known. */
  #mayBe(i: number, word: string): boolean {
    if (i >= this.#high) return true;
    return isWord(word, this.#text, this.#units, this.starts[i] as number, this.ends[i] as number);
  }
}
