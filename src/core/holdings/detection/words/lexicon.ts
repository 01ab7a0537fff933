import type { Beginnings, PhraseNumbers } from './beginnings.ts';
import { foldOf } from '../pattern/code-shape.ts';
import { FIRST_SLOTS, firstSlotOf, TokenKernel, UNTOLD } from './token-kernel.ts';
import { PhraseSet } from './phrase-set.ts';
import { ASK, FOLDED, lookUp, NEITHER, NO_LOWER } from './unit-kind.ts';

/** Words remembered, of those that were looked up. */
const MOST_WORDS = 20_000;
const SLOTS = 1 << 14;
/** So many of a word’s first units tell whether a look-up is worth it. */
const FIRST = 4;
/** Of a folded unit, what both cases of a letter have in common is one of so many. */
const CODES = 32;

const ALL_CODES = Array.from({ length: CODES }, (_, code) => code);

/** Where the tokens of a stretch of text are written to, by index. */
export interface TokenColumns {
  readonly starts: Int32Array;
  readonly ends: Int32Array;
  /** For `Lexicon.beginningsAt`; 0 where nothing begins. */
  readonly begins: Int32Array;
}

interface Known {
  readonly hash: number;
  readonly word: string;
  readonly place: number;
}

const mixed = (hash: number, unit: number) => Math.imul(hash ^ unit, 0x01000193);

/** The words that the phrases of many sets begin with, so that a word of a text is looked up once for all of them. */
export class Lexicon implements PhraseNumbers {
  #sets = 0;
  readonly #made = new Map<string, PhraseSet>();
  readonly #patterns = new Map<string, unknown>();
  /** By word, the sets with the words that have to follow; `undefined` where none has to. */
  readonly #whole = new Map<string, { readonly set: number; readonly next: string | undefined }[]>();
  readonly #stems = new Map<number, Map<string, number[]>>();
  /** By the word, in lower case; and by the slot of its hash, the last that was asked for. */
  readonly #known = new Map<string, number>();
  readonly #recent = new Array<Known | undefined>(SLOTS).fill(undefined);
  /** All that differ, and where each is. */
  readonly #beginnings: Beginnings[] = [];
  readonly #places = new Map<string, number>();
  /** By the slot of its first units: whether a word, or a stem of it, may be known. */
  readonly #mayBe = new Uint8Array(FIRST_SLOTS);
  #kernel: TokenKernel | undefined;

  /** What is made of a pattern, once for all who have it. */
  patternOf<T>(pattern: string, make: () => T): T {
    let made = this.#patterns.get(pattern) as T | undefined;
    if (made === undefined) this.#patterns.set(pattern, (made = make()));
    return made;
  }

  get sets(): number {
    return this.#sets;
  }

  /** The set of these words: one and the same for all that have the same. */
  setOf(words: readonly string[]): PhraseSet {
    const key = words.join('\n');
    let made = this.#made.get(key);
    if (!made) this.#made.set(key, (made = new PhraseSet(words, this)));
    return made;
  }

  next(): number {
    this.#known.clear();
    this.#recent.fill(undefined);
    this.#places.clear();
    this.#kernel = undefined;
    this.#beginnings.length = 0;
    return this.#sets++;
  }

  addWord(word: string, next: string | undefined, set: number): void {
    const known = this.#whole.get(word);
    if (known) known.push({ set, next });
    else this.#whole.set(word, [{ set, next }]);
    this.#expect(word, false);
  }

  addStem(stem: string, set: number): void {
    const stems = this.#stems.get(stem.length) ?? new Map<string, number[]>();
    this.#stems.set(stem.length, stems.set(stem, [...(stems.get(stem) ?? []), set]));
    this.#expect(stem, true);
  }

  #expect(word: string, isStem: boolean): void {
    this.#kernel = undefined;
    const codesAt = (k: number) =>
      k < word.length ? [foldOf(word.charCodeAt(k)) % CODES] : isStem ? ALL_CODES : [0];
    for (const a of codesAt(0))
      for (const b of codesAt(1))
        for (const c of codesAt(2)) for (const d of codesAt(3)) this.#mayBe[firstSlotOf(a, b, c, d)] = 1;
  }

  beginningsAt(place: number): Beginnings {
    return this.#beginnings[place - 1] as Beginnings;
  }

  /** Writes the words and numbers in [from, to) of a text, from index `at` on; the index behind the last. `units` are the text’s folded units. */
  read(text: string, units: Uint8Array, from: number, to: number, out: TokenColumns, at: number): number {
    this.#kernel ??= new TokenKernel(this.#mayBe);
    const kernel = this.#kernel;
    const count = kernel.read(units, from, to);
    if (count < 0) return this.#readOneByOne(text, units, from, to, out, at);
    const { starts, ends, places } = kernel;
    for (let k = 0; k < count; k++) {
      out.starts[at + k] = starts[k] as number;
      out.ends[at + k] = ends[k] as number;
      out.begins[at + k] = places[k] as number;
    }
    if (kernel.untold > 0)
      for (let k = 0; k < count; k++) {
        if (places[k] !== UNTOLD) continue;
        const [start, end] = [starts[k] as number, ends[k] as number];
        const place = this.#placeOf(text, units, start, end);
        kernel.tell(start, end, place);
        out.begins[at + k] = place;
      }
    return at + count;
  }

  /** As `read`, of any text. */
  #readOneByOne(
    text: string,
    units: Uint8Array,
    from: number,
    to: number,
    out: TokenColumns,
    at: number,
  ): number {
    const { starts, ends, begins } = out;
    let n = at;
    let i = from;
    while (i < to) {
      const start = i;
      const kind = aboutUnit(text, units, i++) >> 16;
      if (kind === NEITHER) continue;
      while (i < to && aboutUnit(text, units, i) >> 16 === kind) i++;
      starts[n] = start;
      ends[n] = i;
      begins[n] = this.#mayBeKnown(text, units, start, i) ? this.#placeOf(text, units, start, i) : 0;
      n++;
    }
    return n;
  }

  #mayBeKnown(text: string, units: Uint8Array, start: number, end: number): boolean {
    const codes = [0, 0, 0, 0];
    for (let k = 0; k < FIRST && start + k < end; k++) {
      const lower = aboutUnit(text, units, start + k) & 0xffff;
      if (lower === NO_LOWER) return true;
      codes[k] = foldOf(lower);
    }
    const [a, b, c, d] = codes as unknown as readonly [number, number, number, number];
    return this.#mayBe[firstSlotOf(a, b, c, d)] === 1;
  }

  /** For `beginningsAt`, of a word of the text; 0 where nothing begins with it. */
  #placeOf(text: string, units: Uint8Array, start: number, end: number): number {
    let hash = 0;
    for (let i = start; i < end; i++) hash = mixed(hash, aboutUnit(text, units, i) & 0xffff);
    const slot = (hash ^ (hash >>> 15)) & (SLOTS - 1);
    const recent = this.#recent[slot];
    if (recent?.hash === hash && isWord(recent.word, text, units, start, end)) return recent.place;
    const word = text.slice(start, end).toLowerCase();
    let place = this.#known.get(word);
    if (place === undefined) {
      place = this.#look(word);
      if (this.#known.size >= MOST_WORDS) this.#known.clear();
      this.#known.set(word, place);
    }
    this.#recent[slot] = { hash, word, place };
    return place;
  }

  #look(word: string): number {
    const alone: number[] = [];
    const followed = new Map<string, number[]>();
    for (const { set, next } of this.#whole.get(word) ?? [])
      if (next === undefined) alone.push(set);
      else followed.set(next, [...(followed.get(next) ?? []), set]);
    for (const [length, stems] of this.#stems)
      if (word.length >= length) alone.push(...(stems.get(word.slice(0, length)) ?? []));
    if (alone.length === 0 && followed.size === 0) return 0;
    const key = JSON.stringify([alone, [...followed]]);
    let place = this.#places.get(key);
    if (place === undefined) {
      const of = new Uint8Array(this.#sets);
      for (const set of [...alone, ...[...followed.values()].flat()]) of[set] = 1;
      place = this.#beginnings.push({
        alone,
        followed: [...followed].map(([next, sets]) => ({ next, sets })),
        of,
      });
      this.#places.set(key, place);
    }
    return place;
  }
}

/** The kind of a unit in the upper half, and its lower case in the lower. */
export function aboutUnit(text: string, units: Uint8Array, i: number): number {
  const about = FOLDED[units[i] as number] as number;
  return about === ASK ? lookUp(text.charCodeAt(i)) : about;
}

/** Whether the text has the word, which is in lower case, in [start, end). */
export function isWord(word: string, text: string, units: Uint8Array, start: number, end: number): boolean {
  if (word.length !== end - start) return false;
  for (let k = 0; k < word.length; k++) {
    const lower = aboutUnit(text, units, start + k) & 0xffff;
    if (lower === NO_LOWER) return text.slice(start, end).toLowerCase() === word;
    if (lower !== word.charCodeAt(k)) return false;
  }
  return true;
}
