import { shapeCodes } from '../pattern/code-shape.ts';

const SLOTS = 1 << 12;
const MOST_SHAPES = 50_000;

interface Known<T> {
  readonly hash: number;
  readonly codes: Uint8Array;
  readonly salt: number;
  readonly what: T;
}

/** What was found out about shapes of text, by the shape. */
export class ShapeMemory<T> {
  /** By the slot of its hash, the last that was asked for. */
  readonly #recent = new Array<Known<T> | undefined>(SLOTS).fill(undefined);
  readonly #all = new Map<string, Known<T>>();
  #codes = new Uint8Array(0);

  /** Of the shape of the bytes in [from, to) around a cluster of digits; what differs by more than its shape has another `salt`. */
  of(
    units: Uint8Array,
    from: number,
    to: number,
    cluster: { readonly from: number; readonly to: number },
    salt: number,
    make: (shape: string) => T,
  ): T {
    const length = to - from;
    if (this.#codes.length < length) this.#codes = new Uint8Array(2 * length);
    const codes = this.#codes;
    const hash = Math.imul(shapeCodes(units, from, to, cluster, codes) ^ salt, 0x9e3779b1);
    const slot = hash >>> 20;
    const recent = this.#recent[slot];
    if (recent?.hash === hash && recent.salt === salt && isSame(recent.codes, codes, length))
      return recent.what;
    const shape = String.fromCharCode(...codes.subarray(0, length));
    const key = `${salt} ${shape}`;
    let known = this.#all.get(key);
    if (!known) {
      known = { hash, codes: codes.slice(0, length), salt, what: make(shape) };
      if (this.#all.size >= MOST_SHAPES) this.#all.clear();
      this.#all.set(key, known);
    }
    this.#recent[slot] = known;
    return known.what;
  }
}

function isSame(known: Uint8Array, codes: Uint8Array, length: number): boolean {
  if (known.length !== length) return false;
  for (let i = 0; i < length; i++) if (known[i] !== codes[i]) return false;
  return true;
}
