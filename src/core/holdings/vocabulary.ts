import type { Token } from './token.ts';
import { ASK, FOLDED, lookUp, lowerOf, NEITHER, NO_LOWER } from './unit-kind.ts';

const MOST_WORDS = 100_000;
const SLOTS = 1 << 16;
const LONGEST_STEM = 64;

/** The sets of phrases of which some begin with a word. */
export interface Beginnings {
  readonly sets: readonly number[];
  /** By the number of a set: 1 where it is one of them. */
  readonly of: Uint8Array;
}
const NOBODY: Beginnings = { sets: [], of: new Uint8Array(0) };

const mixed = (hash: number, unit: number) => Math.imul(hash ^ unit, 0x01000193);
const slotOf = (hash: number) => (hash ^ (hash >>> 15)) & (SLOTS - 1);

/** A token that is written out only when somebody asks. */
class TextToken implements Token {
  private known: string | undefined = undefined;

  constructor(
    readonly text: string,
    readonly start: number,
    readonly end: number,
    readonly begins: Beginnings,
  ) {}

  get word(): string {
    return (this.known ??= this.text.slice(this.start, this.end).toLowerCase());
  }
}

/** The words that the phrases of many sets begin with, so that a word of a text is looked up once for all of them. */
export class Vocabulary {
  #sets = 0;
  readonly #whole = new Map<string, number[]>();
  readonly #stems = new Map<number, Map<string, number[]>>();
  /** By the hash of a word. */
  readonly #known = new Map<number, { readonly word: string; readonly begins: Beginnings }>();
  /** By the hash of a word, or of a stem: whether there may be one. */
  readonly #mayBe = new Uint8Array(SLOTS);
  readonly #mayStem = new Uint8Array(SLOTS);
  /** By length: whether there is a stem so long. */
  readonly #stemLengths = new Uint8Array(LONGEST_STEM + 1);

  get sets(): number {
    return this.#sets;
  }

  next(): number {
    this.#known.clear();
    return this.#sets++;
  }

  addWord(word: string, set: number): void {
    this.#whole.set(word, [...(this.#whole.get(word) ?? []), set]);
    this.#mayBe[slotOf(hashOf(word))] = 1;
  }

  addStem(stem: string, set: number): void {
    const stems = this.#stems.get(stem.length) ?? new Map<string, number[]>();
    this.#stems.set(stem.length, stems.set(stem, [...(stems.get(stem) ?? []), set]));
    const length = Math.min(stem.length, LONGEST_STEM);
    this.#stemLengths[length] = 1;
    this.#mayStem[slotOf(hashOf(stem.slice(0, length)))] = 1;
  }

  /** The words and numbers in [from, to) of a text. `units` are its folded units. */
  tokenize(text: string, units: Uint8Array, from: number, to: number): Token[] {
    const out: Token[] = [];
    const stems = this.#mayStem;
    const lengths = this.#stemLengths;
    let i = from;
    let about = i < to ? aboutUnit(text, units, i) : 0;
    while (i < to) {
      const kind = about >> 16;
      if (kind === NEITHER) {
        about = ++i < to ? aboutUnit(text, units, i) : 0;
        continue;
      }
      const start = i;
      let hash = 0;
      let maybe = false;
      do {
        const lower = about & 0xffff;
        hash = mixed(hash, lower);
        i++;
        const length = i - start;
        if (lower === NO_LOWER || (lengths[length] === 1 && stems[slotOf(hash)] === 1)) maybe = true;
        about = i < to ? aboutUnit(text, units, i) : 0;
      } while (about >> 16 === kind);
      const begins = maybe || this.#mayBe[slotOf(hash)] === 1 ? this.#begins(text, start, i, hash) : NOBODY;
      out.push(new TextToken(text, start, i, begins));
    }
    return out;
  }

  #begins(text: string, start: number, end: number, hash: number): Beginnings {
    const known = this.#known.get(hash);
    if (known && known.word.length === end - start) {
      let i = start;
      while (i < end && lowerOf(text.charCodeAt(i)) === known.word.charCodeAt(i - start)) i++;
      if (i === end) return known.begins;
    }
    const word = text.slice(start, end).toLowerCase();
    const sets = [...(this.#whole.get(word) ?? [])];
    for (const [length, stems] of this.#stems)
      if (word.length >= length) sets.push(...(stems.get(word.slice(0, length)) ?? []));
    let begins = NOBODY;
    if (sets.length > 0) {
      begins = { sets, of: new Uint8Array(this.#sets) };
      for (const set of sets) begins.of[set] = 1;
    }
    if (this.#known.size >= MOST_WORDS) this.#known.clear();
    this.#known.set(hash, { word, begins });
    return begins;
  }
}

/** The kind of a unit in the upper half, and its lower case in the lower. */
export function aboutUnit(text: string, units: Uint8Array, i: number): number {
  const about = FOLDED[units[i] as number] as number;
  return about === ASK ? lookUp(text.charCodeAt(i)) : about;
}

function hashOf(word: string): number {
  let hash = 0;
  for (let i = 0; i < word.length; i++) hash = mixed(hash, word.charCodeAt(i));
  return hash;
}
