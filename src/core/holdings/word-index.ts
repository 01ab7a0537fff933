import { foldedPrefix, foldOf, LOWER } from './code-shape.ts';

/** What a word sets off. */
export interface WordEntry<T> {
  /** Lower case. */
  readonly text: string;
  /** The word has to end where the text does. */
  readonly whole: boolean;
  /** Only where the word is written with a capital. */
  readonly capital: boolean;
  /** How the next word begins, lower case; empty where the entry is one word. */
  readonly next?: string;
  readonly of: T;
}

interface Known<T> {
  readonly entry: WordEntry<T>;
  readonly folded: Uint8Array;
}

/** Five bits for a folded byte: letters 1 to 31, whatever parts words 0. */
export const LETTER_CODE = new Uint8Array(256);
for (let b = 0; b < 256; b++) {
  const lower = LOWER[b] as number;
  if (lower >= 97 && lower <= 122) LETTER_CODE[b] = lower - 96;
  else if (lower === 0xaa || lower === 0xb5 || lower === 0xba || (lower >= 0xdf && lower !== 0xf7))
    LETTER_CODE[b] = 27 + (lower % 5);
}

/** The first of the two bits that `hits` has for five signs. */
export const HIT_ANY = 1;
const HIT_CAPITAL = 2;

/** The slot of five signs in a row, five bits each, the last of them lowest. */
export function slotOf(five: number): number {
  return Math.imul(five, 0x9e3779b1) >>> 14;
}

/**
 * Finds which entries stand at the beginning of a word. A table says for any five signs in a row (what parts the word
 * from the one before, and its first four letters) whether an entry may begin so; it is small enough to be asked at
 * every sign of a text without a branch. Entries have three units or more.
 */
export class WordIndex<T> {
  readonly hits = new Uint8Array(1 << 18);
  readonly #entries = new Map<number, Known<T>[]>();

  /** Throws a RangeError for an entry of fewer than three units. */
  add(entry: WordEntry<T>): void {
    const folded = Uint8Array.from(foldedPrefix(entry.text));
    if (folded.length < 3) throw new RangeError(`“${entry.text}” is too short: three letters at least.`);
    const [a, b, c, d] = Array.from(folded.subarray(0, 4), (u) => LETTER_CODE[u] as number) as [
      number,
      number,
      number,
      number?,
    ];
    const three = (a << 10) | (b << 5) | c;
    for (const last of d === undefined ? ALL_CODES : [d]) {
      const slot = slotOf((three << 5) | last);
      this.hits[slot] = (this.hits[slot] as number) | (entry.capital ? HIT_CAPITAL : HIT_ANY);
      const list = this.#entries.get((three << 5) | last);
      if (list) list.push({ entry, folded });
      else this.#entries.set((three << 5) | last, [{ entry, folded }]);
    }
  }

  /** The entries that stand at `i`. `isLetter` tells of a folded byte whether a word goes on. */
  at(text: string, units: Uint8Array, i: number, isLetter: Uint8Array): readonly WordEntry<T>[] {
    const first = units[i] as number;
    const four =
      ((LETTER_CODE[first] as number) << 15) |
      ((LETTER_CODE[units[i + 1] as number] as number) << 10) |
      ((LETTER_CODE[units[i + 2] as number] as number) << 5) |
      (LETTER_CODE[units[i + 3] as number] as number);
    const list = this.#entries.get(four);
    if (!list) return NOTHING;
    const capital = (first & 32) === 0;
    let found: WordEntry<T>[] | undefined;
    for (const { entry, folded } of list) {
      if (entry.capital && !capital) continue;
      let k = 0;
      while (k < folded.length && LOWER[units[i + k] as number] === folded[k]) k++;
      if (k < folded.length || (entry.whole && isLetter[units[i + k] as number])) continue;
      if (entry.next && !goesOn(units, i + k, entry.next)) continue;
      // Folding is not one to one.
      if (text.slice(i, i + k).toLowerCase() === entry.text) (found ??= []).push(entry);
    }
    return found ?? NOTHING;
  }
}

/** Whether the next word may begin with `next`; more than one sign between leaves it open. */
function goesOn(units: Uint8Array, at: number, next: string): boolean {
  if (LETTER_CODE[units[at] as number] !== 0) return false;
  const first = units[at + 1] as number;
  return LETTER_CODE[first] === 0 || LOWER[first] === LOWER[foldOf(next.charCodeAt(0))];
}

const NOTHING: readonly never[] = [];
const ALL_CODES = Array.from({ length: 32 }, (_, code) => code);
