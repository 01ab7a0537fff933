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
    if (this.#exact) {
      // 53 bits tell 20,000 people apart but for one time in forty million.
      this.#exact.add(high * 0x20_0000 + (low >>> 11));
      if (this.#exact.size <= this.exactUpTo) return;
      const all = this.#exact;
      this.#exact = undefined;
      this.#registers = new Uint8Array(REGISTERS);
      for (const key of all) this.#count(Math.floor(key / 0x20_0000), (key % 0x20_0000) << 11);
      return;
    }
    this.#count(high, low);
  }

  /** Of the bits after those that name the register, where the first 1 stands. */
  #count(high: number, low: number): void {
    const registers = this.#registers as Uint8Array;
    const register = high >>> (32 - BITS);
    const rest = (high << BITS) | (low >>> (32 - BITS));
    const rank = Math.clz32(rest) + 1;
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

/** How sure a count is: '' where it is exact, else “± 2%”, twice the standard error. */
export function peopleMargin({ error }: PeopleCount): string {
  return error === 0 ? '' : `± ${Math.ceil(error * 200)}%`;
}
