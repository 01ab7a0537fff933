/**
 * A set of item numbers (0 up to 2^32), in blocks of 65,536 that share their upper half. A block is a sorted list of lower
 * halves while it is sparse, and a bit for each of them where it is dense; which of the two follows from its size alone,
 * so that equal sets are equal in every byte.
 */
export class Bitmap {
  private constructor(
    /** Upper halves in order, none of them empty. */
    readonly keys: readonly number[],
    readonly blocks: readonly Block[],
    readonly size: number,
  ) {}

  static readonly EMPTY = new Bitmap([], [], 0);

  /** Of numbers in any order, also repeated. */
  static of(numbers: Iterable<number>): Bitmap {
    const sorted = Uint32Array.from(numbers).sort();
    return Bitmap.ofSorted(sorted.filter((n, i) => i === 0 || n !== sorted[i - 1]));
  }

  /** Of numbers in rising order, each once. */
  static ofSorted(numbers: Uint32Array): Bitmap {
    const builder = new Builder();
    for (let from = 0; from < numbers.length;) {
      const key = (numbers[from] as number) >>> 16;
      let to = from + 1;
      while (to < numbers.length && (numbers[to] as number) >>> 16 === key) to++;
      builder.add(key, blockOf(numbers.subarray(from, to)));
      from = to;
    }
    return builder.done();
  }

  /** All numbers from 0 up to, without, `end`. */
  static upTo(end: number): Bitmap {
    const builder = new Builder();
    for (let from = 0; from < end; from += BLOCK)
      builder.add(from / BLOCK, wholeUpTo(Math.min(BLOCK, end - from)));
    return builder.done();
  }

  /** Of sets of numbers below 65,536, each moved up by 65,536 times its number; those in rising order. */
  static ofParts(parts: readonly (readonly [number: number, set: Bitmap])[]): Bitmap {
    const builder = new Builder();
    for (const [number, { blocks }] of parts) if (blocks[0]) builder.add(number, blocks[0]);
    return builder.done();
  }

  /** What `ofParts` made it of: the set of one number. */
  part(number: number): Bitmap {
    const at = find(this.keys, number);
    const builder = new Builder();
    if (at >= 0) builder.add(0, this.blocks[at] as Block);
    return builder.done();
  }

  has(n: number): boolean {
    const at = find(this.keys, n >>> 16);
    return at >= 0 && blockHas(this.blocks[at] as Block, n & 0xffff);
  }

  and(other: Bitmap): Bitmap {
    const builder = new Builder();
    both(this, other, (key, a, b) => builder.add(key, andBlocks(a, b)));
    return builder.done();
  }

  or(other: Bitmap): Bitmap {
    const builder = new Builder();
    either(this, other, (key, a, b) => builder.add(key, a && b ? orBlocks(a, b) : ((a ?? b) as Block)));
    return builder.done();
  }

  /** What is in any of these. */
  static union(sets: readonly Bitmap[]): Bitmap {
    if (sets.length <= 1) return sets[0] ?? Bitmap.EMPTY;
    const byKey = new Map<number, Block[]>();
    for (const set of sets)
      for (const [i, key] of set.keys.entries()) {
        const blocks = byKey.get(key);
        if (blocks) blocks.push(set.blocks[i] as Block);
        else byKey.set(key, [set.blocks[i] as Block]);
      }
    const builder = new Builder();
    for (const key of [...byKey.keys()].sort((a, b) => a - b))
      builder.add(key, uniteBlocks(byKey.get(key) as Block[]));
    return builder.done();
  }

  /** What is in this one and not in the other. */
  without(other: Bitmap): Bitmap {
    const builder = new Builder();
    either(this, other, (key, a, b) => {
      if (a) builder.add(key, b ? withoutBlocks(a, b) : a);
    });
    return builder.done();
  }

  /** As many as `and` would have, without making it. */
  countAnd(other: Bitmap): number {
    let n = 0;
    both(this, other, (_key, a, b) => (n += countAndBlocks(a, b)));
    return n;
  }

  /** Numbers in order, from `from` on. */
  *numbers(from = 0): Generator<number> {
    for (const [i, key] of this.keys.entries()) {
      const base = key * BLOCK;
      if (base + BLOCK <= from) continue;
      for (const low of lows(this.blocks[i] as Block)) if (base + low >= from) yield base + low;
    }
  }

  /** The lowest numbers from `from` on, at most so many. */
  first(most: number, from = 0): number[] {
    const lowest: number[] = [];
    for (const n of this.numbers(from)) {
      if (lowest.length >= most) break;
      lowest.push(n);
    }
    return lowest;
  }

  /** Each number in order. */
  forEach(each: (n: number) => void): void {
    for (const [i, key] of this.keys.entries()) {
      const base = key * BLOCK;
      const block = this.blocks[i] as Block;
      if (block instanceof Uint16Array)
        for (let j = 0; j < block.length; j++) each(base + (block[j] as number));
      else
        for (let w = 0; w < WORDS; w++)
          for (let word = block.words[w] as number; word !== 0; word &= word - 1)
            each(base + w * 32 + (31 - Math.clz32(word & -word)));
    }
  }

  equals(other: Bitmap): boolean {
    return this.size === other.size && this.countAnd(other) === this.size;
  }

  /** As bytes: for each block its key, its size and its list or its bits, little-endian. */
  toBytes(): Uint8Array {
    const bytes = new Uint8Array(this.blocks.reduce((n, b) => n + 8 + bytesOf(b), 0));
    const view = new DataView(bytes.buffer);
    let at = 0;
    for (const [i, block] of this.blocks.entries()) {
      view.setUint32(at, this.keys[i] as number, true);
      view.setUint32(at + 4, sizeOf(block), true);
      at += 8;
      if (block instanceof Uint16Array) for (const low of block) at = put16(view, at, low);
      else
        for (const word of block.words) {
          view.setUint32(at, word, true);
          at += 4;
        }
    }
    return bytes;
  }

  /** Throws a RangeError for bytes that no bitmap wrote. */
  static fromBytes(bytes: Uint8Array): Bitmap {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const builder = new Builder();
    let before = -1;
    for (let at = 0; at < bytes.length;) {
      const key = view.getUint32(at, true);
      const size = view.getUint32(at + 4, true);
      if (key <= before || key >= BLOCK || size < 1 || size > BLOCK)
        throw new RangeError('These bytes are no set of items.');
      before = key;
      at += 8;
      const block = size <= SPARSE ? readList(view, at, size) : readBits(view, at, size);
      at += bytesOf(block);
      builder.add(key, block);
    }
    return builder.done();
  }
}

const BLOCK = 0x1_0000;
/** A list of more is longer than the bits. */
const SPARSE = 4096;
const WORDS = BLOCK / 32;

interface Bits {
  readonly words: Uint32Array;
  readonly size: number;
}
type Block = Uint16Array | Bits;

class Builder {
  readonly #keys: number[] = [];
  readonly #blocks: Block[] = [];
  #size = 0;

  add(key: number, block: Block): void {
    const size = sizeOf(block);
    if (size === 0) return;
    this.#keys.push(key);
    this.#blocks.push(block);
    this.#size += size;
  }

  done(): Bitmap {
    const make = Bitmap as unknown as new (keys: number[], blocks: Block[], size: number) => Bitmap;
    return this.#size === 0 ? Bitmap.EMPTY : new make(this.#keys, this.#blocks, this.#size);
  }
}

function sizeOf(block: Block): number {
  return block instanceof Uint16Array ? block.length : block.size;
}

function bytesOf(block: Block): number {
  return block instanceof Uint16Array ? block.length * 2 : WORDS * 4;
}

/** Of numbers that share their upper half, in order, each once. */
function blockOf(numbers: Uint32Array): Block {
  // What is written to a list of 16 bits is the lower half.
  if (numbers.length <= SPARSE) return Uint16Array.from(numbers);
  const words = new Uint32Array(WORDS);
  for (let i = 0; i < numbers.length; i++) {
    const n = (numbers[i] as number) & 0xffff;
    words[n >>> 5] = (words[n >>> 5] as number) | (1 << (n & 31));
  }
  return { words, size: numbers.length };
}

function wholeUpTo(end: number): Block {
  if (end <= SPARSE) return Uint16Array.from({ length: end }, (_, i) => i);
  const words = new Uint32Array(WORDS).fill(0xffffffff, 0, end >>> 5);
  if (end < BLOCK && (end & 31) !== 0) words[end >>> 5] = 2 ** (end & 31) - 1;
  return { words, size: end };
}

/** Bits as a block: a list where they are few. */
function settle(words: Uint32Array): Block {
  let size = 0;
  for (let i = 0; i < WORDS; i++) size += ones(words[i] as number);
  return size > SPARSE ? { words, size } : listOf(words, size);
}

function listOf(words: Uint32Array, size: number): Uint16Array {
  const list = new Uint16Array(size);
  let n = 0;
  for (let i = 0; i < WORDS; i++)
    for (let word = words[i] as number; word !== 0; word &= word - 1)
      list[n++] = i * 32 + (31 - Math.clz32(word & -word));
  return list;
}

function bitsOf(block: Block): Uint32Array {
  if (!(block instanceof Uint16Array)) return block.words;
  const words = new Uint32Array(WORDS);
  for (const n of block) words[n >>> 5] = (words[n >>> 5] as number) | (1 << (n & 31));
  return words;
}

function blockHas(block: Block, low: number): boolean {
  return block instanceof Uint16Array ? find(block, low) >= 0 : hasBit(block.words, low);
}

function hasBit(words: Uint32Array, low: number): boolean {
  return (((words[low >>> 5] as number) >>> (low & 31)) & 1) === 1;
}

function andBlocks(a: Block, b: Block): Block {
  if (a instanceof Uint16Array) return a.filter((n) => blockHas(b, n));
  if (b instanceof Uint16Array) return b.filter((n) => hasBit(a.words, n));
  const words = new Uint32Array(WORDS);
  for (let i = 0; i < WORDS; i++) words[i] = (a.words[i] as number) & (b.words[i] as number);
  return settle(words);
}

function countAndBlocks(a: Block, b: Block): number {
  if (a instanceof Uint16Array && b instanceof Uint16Array) return countMerged(a, b);
  if (a instanceof Uint16Array) return countBits(a, b as Bits);
  if (b instanceof Uint16Array) return countBits(b, a);
  let n = 0;
  for (let i = 0; i < WORDS; i++) n += ones((a.words[i] as number) & (b.words[i] as number));
  return n;
}

function countBits(list: Uint16Array, { words }: Bits): number {
  let n = 0;
  for (let i = 0; i < list.length; i++) if (hasBit(words, list[i] as number)) n++;
  return n;
}

function countMerged(a: Uint16Array, b: Uint16Array): number {
  let n = 0;
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    const d = (a[i] as number) - (b[j] as number);
    if (d === 0) n++;
    if (d <= 0) i++;
    if (d >= 0) j++;
  }
  return n;
}

function orBlocks(a: Block, b: Block): Block {
  const words = bitsOf(a).slice();
  if (b instanceof Uint16Array)
    for (const n of b) words[n >>> 5] = (words[n >>> 5] as number) | (1 << (n & 31));
  else for (let i = 0; i < WORDS; i++) words[i] = (words[i] as number) | (b.words[i] as number);
  return settle(words);
}

function uniteBlocks(blocks: readonly Block[]): Block {
  if (blocks.length === 1) return blocks[0] as Block;
  const words = new Uint32Array(WORDS);
  for (const block of blocks)
    if (block instanceof Uint16Array)
      for (let i = 0; i < block.length; i++) {
        const n = block[i] as number;
        words[n >>> 5] = (words[n >>> 5] as number) | (1 << (n & 31));
      }
    else for (let i = 0; i < WORDS; i++) words[i] = (words[i] as number) | (block.words[i] as number);
  return settle(words);
}

function withoutBlocks(a: Block, b: Block): Block {
  if (a instanceof Uint16Array) return a.filter((n) => !blockHas(b, n));
  const [from, less] = [a.words, bitsOf(b)];
  const words = new Uint32Array(WORDS);
  for (let i = 0; i < WORDS; i++) words[i] = (from[i] as number) & ~(less[i] as number);
  return settle(words);
}

function* lows(block: Block): Generator<number> {
  if (block instanceof Uint16Array) yield* block;
  else
    for (let i = 0; i < WORDS; i++)
      for (let word = block.words[i] as number; word !== 0; word &= word - 1)
        yield i * 32 + (31 - Math.clz32(word & -word));
}

function readList(view: DataView, at: number, size: number): Uint16Array {
  const list = new Uint16Array(size);
  for (let i = 0; i < size; i++) {
    list[i] = view.getUint16(at + i * 2, true);
    if (i > 0 && (list[i] as number) <= (list[i - 1] as number))
      throw new RangeError('These bytes are no set of items.');
  }
  return list;
}

function readBits(view: DataView, at: number, size: number): Block {
  const words = new Uint32Array(WORDS);
  let n = 0;
  for (let i = 0; i < WORDS; i++) {
    words[i] = view.getUint32(at + i * 4, true);
    n += ones(words[i] as number);
  }
  if (n !== size) throw new RangeError('These bytes are no set of items.');
  return { words, size };
}

function put16(view: DataView, at: number, n: number): number {
  view.setUint16(at, n, true);
  return at + 2;
}

/** How many bits of a word are set. */
function ones(word: number): number {
  let n = word - ((word >>> 1) & 0x55555555);
  n = (n & 0x33333333) + ((n >>> 2) & 0x33333333);
  return (((n + (n >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
}

/** Where something stands in an ordered list; negative where it does not. */
function find(list: ArrayLike<number>, wanted: number): number {
  let [low, high] = [0, list.length - 1];
  while (low <= high) {
    const middle = (low + high) >>> 1;
    const d = (list[middle] as number) - wanted;
    if (d === 0) return middle;
    if (d < 0) low = middle + 1;
    else high = middle - 1;
  }
  return -1;
}

function both(a: Bitmap, b: Bitmap, each: (key: number, a: Block, b: Block) => void): void {
  for (let i = 0, j = 0; i < a.keys.length && j < b.keys.length;) {
    const d = (a.keys[i] as number) - (b.keys[j] as number);
    if (d === 0) each(a.keys[i] as number, a.blocks[i] as Block, b.blocks[j] as Block);
    if (d <= 0) i++;
    if (d >= 0) j++;
  }
}

function either(
  a: Bitmap,
  b: Bitmap,
  each: (key: number, a: Block | undefined, b: Block | undefined) => void,
): void {
  for (let i = 0, j = 0; i < a.keys.length || j < b.keys.length;) {
    const [x, y] = [a.keys[i] ?? Infinity, b.keys[j] ?? Infinity];
    each(Math.min(x, y), x <= y ? a.blocks[i] : undefined, y <= x ? b.blocks[j] : undefined);
    if (x <= y) i++;
    if (y <= x) j++;
  }
}
