import { foldOf } from './code-shape.ts';
import { PhraseSet } from './phrase-set.ts';
import { ASK, FOLDED, lookUp, NEITHER, NO_LOWER } from './unit-kind.ts';

/** Words remembered, of those that were looked up. */
const MOST_WORDS = 20_000;
const SLOTS = 1 << 14;
/** So many of a word’s first units tell whether a look-up is worth it. */
const FIRST = 4;
/** Bits of a folded unit that both cases of a letter have in common. */
const CODE_BITS = 5;
const CODES = 1 << CODE_BITS;
/** By a word’s length, as far as `FIRST`: which bits of a key are its own. */
const OWN = Int32Array.from({ length: FIRST + 1 }, (_, length) => (1 << (CODE_BITS * length)) - 1);

/** Of folded units, the kind; 0 where only the unit itself tells. */
const KINDS = Uint8Array.from(FOLDED, (about) => (about === ASK ? 0 : about >> 16));

/** What begins with a word. */
export interface Beginnings {
  /** The sets that have the word itself, or a stem of it. */
  readonly alone: readonly number[];
  /** Other sets, with the word that has to follow. */
  readonly followed: readonly { readonly next: string; readonly sets: readonly number[] }[];
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
const firstSlotOf = (key: number) => Math.imul(key, 0x9e3779b1) >>> 18;

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
  /** By the slot of the codes of its first units: whether a word, or a stem of it, may be known. */
  readonly #mayBe = new Uint8Array(SLOTS);

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
    this.#expect(word, false);
  }

  addStem(stem: string, set: number): void {
    const stems = this.#stems.get(stem.length) ?? new Map<string, number[]>();
    this.#stems.set(stem.length, stems.set(stem, [...(stems.get(stem) ?? []), set]));
    this.#expect(stem, true);
  }

  #expect(word: string, isStem: boolean): void {
    let keys = [0];
    for (let k = 0; k < FIRST; k++) {
      const codes =
        k < word.length
          ? [foldOf(word.charCodeAt(k)) % CODES]
          : isStem
            ? Array.from({ length: CODES }, (_, code) => code)
            : [0];
      keys = keys.flatMap((key) => codes.map((code) => key | (code << (CODE_BITS * k))));
    }
    for (const key of keys) this.#mayBe[firstSlotOf(key)] = 1;
  }

  beginningsAt(place: number): Beginnings {
    return this.#beginnings[place - 1] as Beginnings;
  }

  /** Writes the words and numbers in [from, to) of a text, from index `at` on; the index behind the last. `units` are the text’s folded units. */
  read(text: string, units: Uint8Array, from: number, to: number, out: TokenColumns, at: number): number {
    const { starts, ends, begins } = out;
    const kinds = KINDS;
    const mayBe = this.#mayBe;
    let n = at;
    let i = from;
    while (i < to) {
      const start = i;
      const kind = kinds[units[i] as number] as number;
      i++;
      if (kind === NEITHER) continue;
      let next = 0;
      while (i < to && (next = kinds[units[i] as number] as number) === kind) i++;
      let may: boolean;
      if (kind === 0 || (next === 0 && i < to)) {
        i = endOf(text, units, start, to);
        if (i === start) {
          i++;
          continue;
        }
        may = this.#mayBeKnown(text, start, i);
      } else {
        // Without a loop: this is done for every word.
        const key =
          ((units[start] as number) & 31) |
          (((units[start + 1] as number) & 31) << 5) |
          (((units[start + 2] as number) & 31) << 10) |
          (((units[start + 3] as number) & 31) << 15);
        const length = i - start;
        may = mayBe[firstSlotOf(length < FIRST ? key & (OWN[length] as number) : key)] === 1;
      }
      starts[n] = start;
      ends[n] = i;
      begins[n] = may ? this.#placeOf(text, units, start, i) : 0;
      n++;
    }
    return n;
  }

  #mayBeKnown(text: string, start: number, end: number): boolean {
    let key = 0;
    for (let k = 0; k < FIRST; k++) {
      const lower = start + k < end ? lookUp(text.charCodeAt(start + k)) & 0xffff : 0;
      if (lower === NO_LOWER && start + k < end) return true;
      key |= (foldOf(lower) % CODES) << (CODE_BITS * k);
    }
    return this.#mayBe[firstSlotOf(key)] === 1;
  }

  /** For `beginningsAt`, of a word of the text; 0 where nothing begins with it. */
  #placeOf(text: string, units: Uint8Array, start: number, end: number): number {
    let hash = 0;
    for (let i = start; i < end; i++) hash = mixed(hash, aboutUnit(text, units, i) & 0xffff);
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

/** Where the word or number that begins at `start` ends; `start` where none does. */
function endOf(text: string, units: Uint8Array, start: number, to: number): number {
  const kind = aboutUnit(text, units, start) >> 16;
  if (kind === NEITHER) return start;
  let end = start + 1;
  while (end < to && aboutUnit(text, units, end) >> 16 === kind) end++;
  return end;
}
