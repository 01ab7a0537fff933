/**
 * SipHash-2-4 (J.-P. Aumasson, D. J. Bernstein, 2012): a keyed hash that tells nothing of short values without its key.
 * Works on pairs of 32-bit halves, since that is what an engine computes quickly.
 */
export class SipHash {
  readonly #key: Uint32Array;
  readonly #v = new Uint32Array(8);
  /** The halves of the last hash. */
  high = 0;
  low = 0;

  /** `key` has sixteen bytes. */
  constructor(key: Uint8Array) {
    if (key.length !== 16) throw new RangeError('A key of sixteen bytes, please.');
    this.#key = new Uint32Array(key.slice().buffer);
  }

  /** Hashes the UTF-16 units of a text; the result stands in `high` and `low`. */
  hash(text: string): void {
    const [k0 = 0, k1 = 0, k2 = 0, k3 = 0] = this.#key;
    const v = this.#v;
    v.set([
      k0 ^ 0x70736575,
      k1 ^ 0x736f6d65,
      k2 ^ 0x6e646f6d,
      k3 ^ 0x646f7261,
      k0 ^ 0x6e657261,
      k1 ^ 0x6c796765,
      k2 ^ 0x79746573,
      k3 ^ 0x74656462,
    ]);
    const n = text.length;
    let i = 0;
    for (; i + 4 <= n; i += 4) {
      const low = text.charCodeAt(i) | (text.charCodeAt(i + 1) << 16);
      const high = text.charCodeAt(i + 2) | (text.charCodeAt(i + 3) << 16);
      absorb(v, low, high);
    }
    let low = 0;
    let high = (n * 2) << 24;
    if (i < n) low |= text.charCodeAt(i);
    if (i + 1 < n) low |= text.charCodeAt(i + 1) << 16;
    if (i + 2 < n) high |= text.charCodeAt(i + 2);
    absorb(v, low, high);
    v[4] = (v[4] as number) ^ 0xff;
    for (let r = 0; r < 4; r++) round(v);
    this.low = ((v[0] as number) ^ (v[2] as number) ^ (v[4] as number) ^ (v[6] as number)) >>> 0;
    this.high = ((v[1] as number) ^ (v[3] as number) ^ (v[5] as number) ^ (v[7] as number)) >>> 0;
  }
}

function absorb(v: Uint32Array, low: number, high: number): void {
  v[6] = (v[6] as number) ^ low;
  v[7] = (v[7] as number) ^ high;
  round(v);
  round(v);
  v[0] = (v[0] as number) ^ low;
  v[1] = (v[1] as number) ^ high;
}

/** v[a] += v[b], in halves: low first. */
function add(v: Uint32Array, a: number, b: number): void {
  const low = (v[a] as number) + (v[b] as number);
  v[a] = low;
  v[a + 1] = (v[a + 1] as number) + (v[b + 1] as number) + (low > 0xffffffff ? 1 : 0);
}

/** v[a] = rotl(v[a], n) ^ v[b]. */
function turn(v: Uint32Array, a: number, b: number, n: number): void {
  const low = v[a] as number;
  const high = v[a + 1] as number;
  v[a] = ((low << n) | (high >>> (32 - n))) ^ (v[b] as number);
  v[a + 1] = ((high << n) | (low >>> (32 - n))) ^ (v[b + 1] as number);
}

function swap(v: Uint32Array, a: number): void {
  const low = v[a] as number;
  v[a] = v[a + 1] as number;
  v[a + 1] = low;
}

function round(v: Uint32Array): void {
  add(v, 0, 2);
  turn(v, 2, 0, 13);
  swap(v, 0);
  add(v, 4, 6);
  turn(v, 6, 4, 16);
  add(v, 0, 6);
  turn(v, 6, 0, 21);
  add(v, 4, 2);
  turn(v, 2, 4, 17);
  swap(v, 4);
}
