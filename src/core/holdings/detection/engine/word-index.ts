import { foldedPrefix, foldOf, isLetter, LOWER } from '../pattern/code-shape.ts';
import {
  ANY,
  CAPITAL,
  DEEPEST,
  depthBit,
  depthSlotOf,
  DEEP_BYTES,
  DEPTH_SLOTS,
  HIT_BYTES,
  lettersOf,
  LOWER_BIT,
  putDeep,
  putHit,
  SPREAD,
  type WordTables,
} from './scan-kernel.ts';

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

const NEEDS_CAPITAL = 1;
const WHOLE = 2;
/** All ASCII: the bytes alone tell it. */
const CERTAIN = 4;

/** So many signs may stand between two words. */
export const MOST_BETWEEN = 3;

const ROW_SLOTS = 1 << 17;

/** The slot of a word’s first four units, whatever case the text has them in. */
const slotOf = (a: number, b: number, c: number, d: number): number =>
  Math.imul(lettersOf(a, b, c, d), SPREAD) >>> 15;

/** Four bytes from `at` on as the kernel hashes them: five bits of a letter, nothing of anything else. */
function lettersAt(folded: Uint8Array, at: number, length: number): number {
  let key = 0;
  for (let k = at; k < at + 4 && k < length; k++) {
    const b = folded[k] ?? 0;
    if (b >= 97 && b <= 122) key |= (b & 31) << (8 * (k - at));
  }
  return key >>> 0;
}

/** The bytes that an entry begins with, its end and the next word included: more than one way to be. */
function waysOf<T>({ entry, folded }: Known<T>): readonly Uint8Array[] {
  if (!entry.whole) return [folded];
  if (!entry.next) return [Uint8Array.of(...folded, 0)];
  const next = foldedPrefix(entry.next);
  return Array.from({ length: MOST_BETWEEN }, (_, n) =>
    Uint8Array.of(...folded, ...new Uint8Array(n + 1), ...next),
  );
}

/**
 * Finds which entries stand at the beginning of a word. Tables for the kernel say of a word's first letters whether an
 * entry may begin so. Entries have three units or more.
 */
export class WordIndex<T> {
  readonly #known: Known<T>[] = [];
  /** By slot, where in `#rows` its entries stand: how many, and four numbers each: entry, first byte, bytes, flags. */
  readonly #rowOf = new Int32Array(ROW_SLOTS);
  #rows = new Int32Array(0);
  #bytes = new Uint8Array(0);

  /** Throws a RangeError for an entry of fewer than three units. */
  add(entry: WordEntry<T>): void {
    const folded = Uint8Array.from(foldedPrefix(entry.text));
    if (folded.length < 3) throw new RangeError(`“${entry.text}” is too short: three letters at least.`);
    this.#known.push({ entry, folded });
  }

  /** For the kernel, of all entries: none may be added any more. */
  tables(): WordTables {
    const hits = new Uint8Array(HIT_BYTES);
    const depths = new Uint8Array(DEPTH_SLOTS);
    const deep = new Uint8Array(DEEP_BYTES);
    const slots = new Map<number, number[]>();
    const bytes: number[] = [];
    const parts = this.#known.map(({ entry, folded }, index) => {
      const flags =
        (entry.capital ? NEEDS_CAPITAL : 0) |
        (entry.whole ? WHOLE : 0) |
        (folded.every((b) => b > 32 && b < 128) ? CERTAIN : 0);
      const from = bytes.length;
      bytes.push(...folded);
      return [index, from, folded.length, flags];
    });
    for (const [index, known] of this.#known.entries()) {
      const bit = known.entry.capital ? CAPITAL : ANY;
      let bits = 0;
      for (const way of waysOf(known)) {
        const depth = Math.min(DEEPEST, way.length);
        // A text with a letter beyond ASCII so near is let through whatever it is.
        if (way.subarray(0, depth).every((b) => b < 128))
          putDeep(deep, lettersAt(way, 0, depth), lettersAt(way, 4, depth), bit);
        bits |= depthBit(depth);
      }
      const { folded } = known;
      const [a, b, c] = folded as unknown as readonly [number, number, number];
      for (const last of folded.length > 3 ? [folded[3] as number] : ALL_CODES) {
        const slot = slotOf(a, b, c, last);
        slots.set(slot, [...(slots.get(slot) ?? []), index]);
        for (const first of known.entry.capital ? [a & ~LOWER_BIT] : [a & ~LOWER_BIT, a | LOWER_BIT]) {
          putHit(hits, first, b, c, last);
          const at = depthSlotOf(first, b, c, last);
          depths[at] = (depths[at] as number) | bits;
        }
      }
    }
    const rows: number[] = [0];
    for (const [slot, list] of slots)
      this.#rowOf[slot] =
        rows.push(list.length, ...list.flatMap((index) => parts[index] as number[])) - 1 - 4 * list.length;
    this.#rows = Int32Array.from(rows);
    this.#bytes = Uint8Array.from(bytes);
    return { hits, depths, deep };
  }

  /** The entries that stand at `i`, once there are tables. */
  at(text: string, units: Uint8Array, i: number): readonly WordEntry<T>[] {
    const rows = this.#rows;
    const bytes = this.#bytes;
    const first = units[i] as number;
    let row = this.#rowOf[
      slotOf(first, units[i + 1] as number, units[i + 2] as number, units[i + 3] as number)
    ] as number;
    if (row === 0) return NOTHING;
    const isCapital = (first & 32) === 0;
    let found: WordEntry<T>[] | undefined;
    for (let n = rows[row++] as number; n > 0; n--, row += 4) {
      const flags = rows[row + 3] as number;
      if ((flags & NEEDS_CAPITAL) !== 0 && !isCapital) continue;
      const from = rows[row + 1] as number;
      const length = rows[row + 2] as number;
      // From the end: entries of one slot mostly begin alike.
      let k = length;
      while (k > 0 && LOWER[units[i + k - 1] as number] === bytes[from + k - 1]) k--;
      if (k > 0 || ((flags & WHOLE) !== 0 && isLetter(units[i + length] as number))) continue;
      const { entry } = this.#known[rows[row] as number] as Known<T>;
      if (entry.next && !goesOn(units, i + length, entry.next)) continue;
      // Folding beyond ASCII is not one to one.
      if ((flags & CERTAIN) !== 0 || text.slice(i, i + length).toLowerCase() === entry.text)
        (found ??= []).push(entry);
    }
    return found ?? NOTHING;
  }
}

/** Whether the next word may begin with `next`. */
function goesOn(units: Uint8Array, at: number, next: string): boolean {
  const begins = LOWER[foldOf(next.charCodeAt(0))] as number;
  for (let i = at; i < at + MOST_BETWEEN; i++) {
    const unit = units[i] as number;
    // Beyond ASCII the text has to be asked.
    if (unit > 127) return true;
    if (unit !== 32 && unit !== 45 && (unit < 9 || unit > 13)) return false;
    const then = units[i + 1] as number;
    if (then > 127 || LOWER[then] === begins) return true;
  }
  return false;
}

const NOTHING: readonly never[] = [];
const ALL_CODES = Array.from({ length: 32 }, (_, code) => code);
