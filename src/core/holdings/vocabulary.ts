import { PhraseSet } from './phrase-set.ts';
import { ASK, FOLDED, lookUp, NEITHER, NO_LOWER } from './unit-kind.ts';

/** Words remembered, of those that were looked up. */
const MOST_WORDS = 20_000;
const SLOTS = 1 << 14;
const LONGEST_STEM = 64;

/** What begins with a word. */
export interface Beginnings {
  /** The sets that have the word itself, or a stem of it. */
  readonly alone: readonly number[];
  /** By the word that has to follow, other sets. */
  readonly followed: ReadonlyMap<string, readonly number[]>;
  /** By the number of a set: 1 where it is one of either. */
  readonly of: Uint8Array;
}

/** Where the tokens of a stretch of text are written to, by index. */
export interface TokenColumns {
  readonly starts: Int32Array;
  readonly ends: Int32Array;
  /** For `Vocabulary.beginningsAt`; 0 where nothing begins. */
  readonly begins: Int32Array;
}

interface Known {
  readonly hash: number;
  readonly word: string;
  readonly place: number;
}

const mixed = (hash: number, unit: number) => Math.imul(hash ^ unit, 0x01000193);
const slotOf = (hash: number) => (hash ^ (hash >>> 15)) & (SLOTS - 1);

/** The words that the phrases of many sets begin with, so that a word of a text is looked up once for all of them. */
export class Vocabulary {
  #sets = 0;
  readonly #made = new Map<string, PhraseSet>();
  /** By word, the sets with the words that have to follow; `undefined` where none has to. */
  readonly #whole = new Map<string, { readonly set: number; readonly next: string | undefined }[]>();
  readonly #stems = new Map<number, Map<string, number[]>>();
  /** By the hash of a word; and by its slot, the last that was asked for. */
  readonly #known = new Map<number, Known>();
  readonly #recent = new Array<Known | undefined>(SLOTS).fill(undefined);
  /** All that differ, and where each is. */
  readonly #beginnings: Beginnings[] = [];
  readonly #places = new Map<string, number>();
  /** By the hash of a word, or of a stem: whether there may be one. */
  readonly #mayBe = new Uint8Array(SLOTS);
  readonly #mayStem = new Uint8Array(SLOTS);
  /** By length: whether there is a stem so long. */
  readonly #stemLengths = new Uint8Array(LONGEST_STEM + 1);

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
    this.#beginnings.length = 0;
    return this.#sets++;
  }

  addWord(word: string, next: string | undefined, set: number): void {
    const known = this.#whole.get(word);
    if (known) known.push({ set, next });
    else this.#whole.set(word, [{ set, next }]);
    this.#mayBe[slotOf(hashOf(word))] = 1;
  }

  addStem(stem: string, set: number): void {
    const stems = this.#stems.get(stem.length) ?? new Map<string, number[]>();
    this.#stems.set(stem.length, stems.set(stem, [...(stems.get(stem) ?? []), set]));
    const length = Math.min(stem.length, LONGEST_STEM);
    this.#stemLengths[length] = 1;
    this.#mayStem[slotOf(hashOf(stem.slice(0, length)))] = 1;
  }

  beginningsAt(place: number): Beginnings {
    return this.#beginnings[place - 1] as Beginnings;
  }

  /** Writes the words and numbers in [from, to) of a text, from index `at` on; the index behind the last. `units` are the text’s folded units. */
  read(text: string, units: Uint8Array, from: number, to: number, out: TokenColumns, at: number): number {
    const { starts, ends, begins } = out;
    const folded = FOLDED;
    const mayBe = this.#mayBe;
    const stems = this.#mayStem;
    const lengths = this.#stemLengths;
    const hasStems = this.#stems.size > 0;
    let n = at;
    let i = from;
    while (i < to) {
      let about = folded[units[i] as number] as number;
      if (about === ASK) about = lookUp(text.charCodeAt(i));
      const kind = about >> 16;
      if (kind === NEITHER) {
        i++;
        continue;
      }
      const start = i;
      let hash = 0;
      let maybe = false;
      do {
        const lower = about & 0xffff;
        hash = mixed(hash, lower);
        i++;
        if (lower === NO_LOWER || (hasStems && lengths[i - start] === 1 && stems[slotOf(hash)] === 1))
          maybe = true;
        if (i >= to) break;
        about = folded[units[i] as number] as number;
        if (about === ASK) about = lookUp(text.charCodeAt(i));
      } while (about >> 16 === kind);
      starts[n] = start;
      ends[n] = i;
      begins[n] = maybe || mayBe[slotOf(hash)] === 1 ? this.#placeOf(text, units, start, i, hash) : 0;
      n++;
    }
    return n;
  }

  /** For `beginningsAt`, of a word of the text; 0 where nothing begins with it. */
  #placeOf(text: string, units: Uint8Array, start: number, end: number, hash: number): number {
    const slot = slotOf(hash);
    let known = this.#recent[slot];
    if (known?.hash === hash && isWord(known.word, text, units, start, end)) return known.place;
    known = this.#known.get(hash);
    if (!known || !isWord(known.word, text, units, start, end)) {
      const word = text.slice(start, end).toLowerCase();
      known = { hash, word, place: this.#look(word) };
      if (this.#known.size >= MOST_WORDS) this.#known.clear();
      this.#known.set(hash, known);
    }
    this.#recent[slot] = known;
    return known.place;
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
      place = this.#beginnings.push({ alone, followed, of });
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

function hashOf(word: string): number {
  let hash = 0;
  for (let i = 0; i < word.length; i++) hash = mixed(hash, word.charCodeAt(i));
  return hash;
}
