import { TOKEN_CODE } from './token-code.ts';

/** Bytes read at once at most. */
export const WIDEST_READ = 4096;
/** Slots for the hash of a word’s first four letters. */
export const FIRST_SLOTS = 1 << 14;

const TEXT = 64;
const FIRST = TEXT + WIDEST_READ + 64;
const STARTS = FIRST + FIRST_SLOTS;
const ROOM = 4 * (WIDEST_READ + 64);
const ENDS = STARTS + ROOM;
const PLACES = ENDS + ROOM;
const KNOWN = PLACES + ROOM;

export const UNTOLD = -1;

/** The slot of the first four units of a word; a unit that it has not is 0. */
export const firstSlotOf = (a: number, b: number, c: number, d: number): number =>
  Math.imul((a & 31) | ((b & 31) << 8) | ((c & 31) << 16) | ((d & 31) << 24), 0x9e3779b1) >>> 18;

let compiled: WebAssembly.Module | undefined;

function compile(): WebAssembly.Module {
  compiled ??= new WebAssembly.Module(Uint8Array.from(atob(TOKEN_CODE), (c) => c.charCodeAt(0)));
  return compiled;
}

interface Exports {
  readonly memory: WebAssembly.Memory;
  readonly asked: WebAssembly.Global;
  readonly read: (
    text: number,
    length: number,
    first: number,
    known: number,
    base: number,
    starts: number,
    ends: number,
    places: number,
  ) => number;
  readonly learn: (known: number, start: number, end: number, place: number) => void;
}

/** The words and numbers of a piece of ASCII, in WebAssembly, with the places of those that it has been told. */
export class TokenKernel {
  readonly #exports: Exports;
  readonly #bytes: Uint8Array;
  /** Of what was read last: where each begins and ends. */
  readonly starts: Int32Array;
  readonly ends: Int32Array;
  /** What has been told of each; 0 of those that may not be known, `UNTOLD` of others. */
  readonly places: Int32Array;
  #from = 0;

  /** By `firstSlotOf` the first letters, FIRST_SLOTS bytes: 1 where a word may be known. */
  constructor(first: Uint8Array) {
    this.#exports = new WebAssembly.Instance(compile()).exports as unknown as Exports;
    const { buffer } = this.#exports.memory;
    this.#bytes = new Uint8Array(buffer);
    this.#bytes.set(first, FIRST);
    this.starts = new Int32Array(buffer, STARTS, ROOM / 4);
    this.ends = new Int32Array(buffer, ENDS, ROOM / 4);
    this.places = new Int32Array(buffer, PLACES, ROOM / 4);
  }

  /** Reads [from, to) of a text’s folded units; how many there are, or -1 where they are not all of ASCII, or too many. */
  read(units: Uint8Array, from: number, to: number): number {
    const length = to - from;
    if (length > WIDEST_READ) return -1;
    this.#bytes.set(units.subarray(from, to), TEXT);
    this.#from = from;
    return this.#exports.read(TEXT, length, FIRST, KNOWN, from, STARTS, ENDS, PLACES);
  }

  /** How many of what was read last are untold. */
  get untold(): number {
    return this.#exports.asked.value as number;
  }

  /** Tells the place of a word in [start, end) of what was read last, for the next time that it comes. */
  tell(start: number, end: number, place: number): void {
    this.#exports.learn(KNOWN, TEXT + start - this.#from, TEXT + end - this.#from, place);
  }
}
