import { SCAN_CODE } from './scan-code.ts';

/** What may begin at a place. */
export const WORD = 0;
export const DIGITS = 1;
export const SIGN = 2;
export const CAPITALS = 3;

/** Slots for the hash of a word's first letters. */
export const DEPTH_SLOTS = 1 << 17;
/** Bytes of `hits`. */
export const HIT_BYTES = 1 << 17;
/** Bytes of `deep`. */
export const DEEP_BYTES = 1 << 17;

/** Of the words that are sought: what the kernel reads of them. */
export interface WordTables {
  /** By the hash of the first four letters (`putHit`): what the kernel goes on by where a word begins so. */
  readonly hits: Uint8Array;
  /** By `depthSlotOf` the same letters: `depthBit` of how many bytes to look at then. */
  readonly depths: Uint8Array;
  /** By the hash of so many bytes, four to a byte (`putDeep`): `ANY` or `CAPITAL`. */
  readonly deep: Uint8Array;
}
/** By so much the kernel goes on from a word that it keeps to the next. */
export const HIT = 4;
export const ANY = 1;
/** Only where the word is written with a capital. */
export const CAPITAL = 2;
/** The fewest and the most bytes of a word that are looked at. */
const SHALLOWEST = 3;
export const DEEPEST = 8;
export const depthBit = (bytes: number): number => 1 << (bytes - SHALLOWEST);

/** A word’s first four units, in whatever case. */
export const lettersOf = (a: number, b: number, c: number, d: number): number =>
  (a & 31) | ((b & 31) << 8) | ((c & 31) << 16) | ((d & 31) << 24);
/** The bit that capitals lack. */
export const LOWER_BIT = 32;
/** Multiplied with it, letters are spread over the upper bits. */
export const SPREAD = 0x85ebca6b;

/** Enters the first four letters of a word; of all but the first it does not matter which case they are. */
export function putHit(hits: Uint8Array, a: number, b: number, c: number, d: number): void {
  hits[Math.imul(lettersOf(a, b, c, d) | (a & LOWER_BIT), 0x9e3779b1) >>> 15] = HIT;
}

/**
 * The same letters’ slot in `depths`; words that have the one in common seldom have the other. Most words
 * have no capital, and few entries are sought without one: each case has a half of its own.
 */
export const depthSlotOf = (a: number, b: number, c: number, d: number): number =>
  ((a & LOWER_BIT) << 11) | (Math.imul(lettersOf(a, b, c, d), SPREAD) >>> 16);

const MIX_LOW = 0x7f4a7c15;
const MIX_HIGH = 0x9e3779b9;

/**
 * Enters a word’s first bytes, what is no letter as zero, in two slots of `deep`, of which each byte has four: bits 45
 * to 63 and 26 to 44 of their product with a constant, modulo 2⁶⁴.
 */
export function putDeep(deep: Uint8Array, low: number, high: number, bits: number): void {
  const [a, b, c, d] = [low & 0xffff, low >>> 16, MIX_LOW & 0xffff, MIX_LOW >>> 16];
  const [ac, ad, bc, bd] = [a * c, a * d, b * c, b * d];
  const middle = (ac >>> 16) + (ad & 0xffff) + (bc & 0xffff);
  const lower = (middle << 16) | (ac & 0xffff);
  const carried = bd + (ad >>> 16) + (bc >>> 16) + (middle >>> 16);
  const upper = (carried + Math.imul(low, MIX_HIGH) + Math.imul(high, MIX_LOW)) >>> 0;
  for (const slot of [upper >>> 13, ((upper << 6) | (lower >>> 26)) & 0x7ffff])
    deep[slot >> 2] = (deep[slot >> 2] as number) | (bits << ((slot & 3) * 2));
}

const TEXT = 64;
const BLOCK = 1 << 15;
const SIGNS = TEXT + BLOCK + 128;
const HITS = SIGNS + 64;
const DEPTHS = HITS + HIT_BYTES;
const DEEP = DEPTHS + DEPTH_SLOTS;
const WORDS = DEEP + DEEP_BYTES;
const OTHERS = WORDS + 4 * (BLOCK + 64);

const DIGIT_BYTES = Array.from({ length: 10 }, (_, d) => 48 + d);

let compiled: WebAssembly.Module | undefined;

function compile(): WebAssembly.Module {
  if (!compiled) {
    const bytes = Uint8Array.from(atob(SCAN_CODE), (c) => c.charCodeAt(0));
    compiled = new WebAssembly.Module(bytes);
  }
  return compiled;
}

interface Exports {
  readonly memory: WebAssembly.Memory;
  readonly others: WebAssembly.Global;
  readonly scan: (
    text: number,
    length: number,
    hits: number,
    deep: number,
    signs: number,
    words: number,
    others: number,
  ) => number;
}

/**
 * The one pass over a text, in WebAssembly with vectors of sixteen bytes, four at a time: marks where a word begins whose first letters
 * some entry has, where digits begin, and where a sign stands that somebody looks for.
 */
export class ScanKernel {
  readonly #exports: Exports;
  readonly #bytes: Uint8Array;
  readonly #words: Int32Array;
  readonly #others: Int32Array;
  /** Places and their kinds, by turns. */
  #gathered = new Int32Array(1024);
  #count = 0;

  /** `signs` are ASCII. */
  constructor({ hits, depths, deep }: WordTables, signs: readonly number[]) {
    this.#exports = new WebAssembly.Instance(compile()).exports as unknown as Exports;
    const { buffer } = this.#exports.memory;
    this.#bytes = new Uint8Array(buffer);
    this.#words = new Int32Array(buffer, WORDS, BLOCK + 64);
    this.#others = new Int32Array(buffer, OTHERS, 2 * BLOCK);
    this.#bytes.set(hits, HITS);
    this.#bytes.set(depths, DEPTHS);
    this.#bytes.set(deep, DEEP);
    for (const b of [...DIGIT_BYTES, ...signs]) {
      const low = SIGNS + (b & 15);
      const high = SIGNS + 16 + (b >> 4);
      const bit = 1 << (b >> 4);
      this.#bytes[low] = (this.#bytes[low] as number) | bit;
      this.#bytes[high] = bit;
    }
  }

  /** Calls `each` with every place in [from, to) of `units`, in rising order. */
  run(units: Uint8Array, from: number, to: number, each: (at: number, kind: number) => void): void {
    const { scan, others: counted } = this.#exports;
    const words = this.#words;
    const others = this.#others;
    for (let at = from; at < to; at += BLOCK) {
      const length = Math.min(BLOCK, to - at);
      this.#bytes[TEXT - 1] = at > 0 ? (units[at - 1] as number) : 0;
      this.#bytes.fill(0, TEXT + length, TEXT + length + 96);
      this.#bytes.set(units.subarray(at, Math.min(units.length, at + length + 16)), TEXT);
      const wordCount = scan(TEXT, length, HITS, DEEP, SIGNS, WORDS, OTHERS);
      const otherCount = counted.value as number;
      let k = 0;
      for (let n = 0; n < wordCount; n++) {
        const word = words[n] as number;
        while (k < otherCount && (others[k] as number) >> 2 < word) this.#gather(at, others[k++] as number);
        this.#gather(at, (word << 2) | WORD);
      }
      while (k < otherCount) this.#gather(at, others[k++] as number);
    }
    // All at once: who works on them finds what it needs still near.
    const gathered = this.#gathered;
    const count = this.#count;
    this.#count = 0;
    for (let n = 0; n < count; n++) {
      const i = gathered[2 * n] as number;
      // What stands beyond the end was read with the rest of its row.
      if (i < to) each(i, gathered[2 * n + 1] as number);
    }
  }

  #gather(at: number, place: number): void {
    if (2 * this.#count + 2 > this.#gathered.length) {
      const more = new Int32Array(2 * this.#gathered.length);
      more.set(this.#gathered);
      this.#gathered = more;
    }
    this.#gathered[2 * this.#count] = at + (place >>> 2);
    this.#gathered[2 * this.#count + 1] = place & 3;
    this.#count++;
  }
}
