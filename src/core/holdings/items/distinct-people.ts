/** How many distinct people; `error` is the relative standard error, 0 where it was counted exactly. */
export interface PeopleCount {
  readonly people: number;
  readonly error: number;
}

/** Registers of 2^14 bytes: a standard error of 1.04 ⁄ √2^14. */
const BITS = 14;
const REGISTERS = 1 << BITS;
const ERROR = 1.04 / Math.sqrt(REGISTERS);

/**
 * Counts distinct people from their hashes of 8 bytes: exactly up to `exactUpTo`, beyond by HyperLogLog (Flajolet, Fusy,
 * Gandouet, Meunier 2007, with 64-bit hashes, so that no correction for large numbers is needed).
 */
export class DistinctPeople {
  #exact: Set<number> | undefined = new Set();
  #registers: Uint8Array | undefined;

  constructor(readonly exactUpTo = 20_000) {}

  /** Hashes of 8 bytes each, one after the other. */
  addAll(hashes: Uint8Array): void {
    const view = new DataView(hashes.buffer, hashes.byteOffset, hashes.byteLength);
    for (let at = 0; at + 8 <= hashes.byteLength; at += 8)
      this.add(view.getUint32(at), view.getUint32(at + 4));
  }

  /** The upper and the lower half of one hash. */
  add(high: number, low: number): void {
    if (this.#exact) this.#addExact(high, low);
    else this.#count(registerOf(high), rankOf(high, low));
  }

  /** Some of prepared hashes, from one up to, without, another. */
  addSome({ high, low, register, rank }: PreparedHashes, from: number, to: number): void {
    let i = from;
    for (; this.#exact && i < to; i++) this.#addExact(high[i] as number, low[i] as number);
    const registers = this.#registers;
    if (!registers) return;
    for (; i < to; i++) {
      const at = register[i] as number;
      if ((rank[i] as number) > (registers[at] as number)) registers[at] = rank[i] as number;
    }
  }

  /** All of prepared hashes. */
  addWhole(hashes: PreparedHashes): void {
    const n = hashes.high.length;
    for (let i = 0; this.#exact && i < n; i++)
      this.#addExact(hashes.high[i] as number, hashes.low[i] as number);
    const registers = this.#registers;
    if (!registers) return;
    // Those that were counted one by one already count no second time.
    const { registers: theirs } = hashes;
    for (let r = 0; r < REGISTERS; r++)
      if ((theirs[r] as number) > (registers[r] as number)) registers[r] = theirs[r] as number;
  }

  #addExact(high: number, low: number): void {
    const exact = this.#exact as Set<number>;
    // 53 bits tell 20,000 people apart but for one time in forty million.
    exact.add(high * 0x20_0000 + (low >>> 11));
    if (exact.size <= this.exactUpTo) return;
    this.#exact = undefined;
    this.#registers = new Uint8Array(REGISTERS);
    for (const key of exact) {
      const [h, l] = [Math.floor(key / 0x20_0000), (key % 0x20_0000) << 11];
      this.#count(registerOf(h), rankOf(h, l));
    }
  }

  #count(register: number, rank: number): void {
    const registers = this.#registers as Uint8Array;
    if (rank > (registers[register] as number)) registers[register] = rank;
  }

  count(): PeopleCount {
    if (this.#exact) return { people: this.#exact.size, error: 0 };
    const registers = this.#registers as Uint8Array;
    let sum = 0;
    let empty = 0;
    for (const rank of registers) {
      sum += 2 ** -rank;
      if (rank === 0) empty++;
    }
    const raw = ((0.7213 / (1 + 1.079 / REGISTERS)) * REGISTERS ** 2) / sum;
    const people = raw <= 2.5 * REGISTERS && empty > 0 ? REGISTERS * Math.log(REGISTERS / empty) : raw;
    return { people: Math.round(people), error: ERROR };
  }
}

function registerOf(high: number): number {
  return high >>> (32 - BITS);
}

/** Of the bits after those that name the register, where the first 1 stands. */
function rankOf(high: number, low: number): number {
  return Math.clz32((high << BITS) | (low >>> (32 - BITS))) + 1;
}

/** Many hashes that are counted again and again: their halves, and what each means for the registers. */
export class PreparedHashes {
  readonly high: Uint32Array;
  readonly low: Uint32Array;
  readonly register: Uint16Array;
  readonly rank: Uint8Array;
  #registers: Uint8Array | undefined;

  /** Hashes of 8 bytes each, one after the other. */
  constructor(bytes: Uint8Array) {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const n = Math.floor(bytes.length / 8);
    this.high = new Uint32Array(n);
    this.low = new Uint32Array(n);
    this.register = new Uint16Array(n);
    this.rank = new Uint8Array(n);
    for (let i = 0; i < n; i++) {
      const [high, low] = [view.getUint32(i * 8), view.getUint32(i * 8 + 4)];
      this.high[i] = high;
      this.low[i] = low;
      this.register[i] = registerOf(high);
      this.rank[i] = rankOf(high, low);
    }
  }

  /** Of all of them; made when it is first asked for. */
  get registers(): Uint8Array {
    if (this.#registers) return this.#registers;
    const all = (this.#registers = new Uint8Array(REGISTERS));
    for (let i = 0; i < this.register.length; i++) {
      const at = this.register[i] as number;
      if ((this.rank[i] as number) > (all[at] as number)) all[at] = this.rank[i] as number;
    }
    return all;
  }
}

/** How sure a count is: '' where it is exact, else “± 2%”, twice the standard error. */
export function peopleMargin({ error }: PeopleCount): string {
  return error === 0 ? '' : `± ${Math.ceil(error * 200)}%`;
}
