import { sha256 } from '@noble/hashes/sha2.js';

/** 32 bytes. */
export type Hash = Uint8Array;

/** RFC 6962 section 2.1: the hash of a leaf, kept apart from inner nodes by its first byte. */
export function leafHash(entry: Uint8Array): Hash {
  return sha256(concat(Uint8Array.of(0), entry));
}

function nodeHash(left: Hash, right: Hash): Hash {
  return sha256(concat(Uint8Array.of(1), left, right));
}

/** RFC 6962 section 2.1: the Merkle tree hash of leaf hashes in their order; of none, the hash of nothing. */
export function treeRoot(leaves: readonly Hash[]): Hash {
  if (leaves.length === 0) return sha256(new Uint8Array());
  if (leaves.length === 1) return leaves[0] as Hash;
  const k = split(leaves.length);
  return nodeHash(treeRoot(leaves.slice(0, k)), treeRoot(leaves.slice(k)));
}

/** RFC 6962 section 2.1.1: the audit path of the leaf at `index`, lowest first. Throws a RangeError outside the tree. */
export function inclusionPath(leaves: readonly Hash[], index: number): readonly Hash[] {
  if (!Number.isInteger(index) || index < 0 || index >= leaves.length)
    throw new RangeError(`Leaf ${index} is not in a tree of ${leaves.length}`);
  if (leaves.length === 1) return [];
  const k = split(leaves.length);
  return index < k
    ? [...inclusionPath(leaves.slice(0, k), index), treeRoot(leaves.slice(k))]
    : [...inclusionPath(leaves.slice(k), index - k), treeRoot(leaves.slice(0, k))];
}

/** The root of a tree and the audit path of every leaf, in one walk; as `treeRoot` and `inclusionPath` give them. */
export function auditPaths(leaves: readonly Hash[]): { root: Hash; paths: readonly (readonly Hash[])[] } {
  const paths = leaves.map((): Hash[] => []);
  const walk = (from: number, to: number): Hash => {
    if (to - from === 1) return leaves[from] as Hash;
    const middle = from + split(to - from);
    const left = walk(from, middle);
    const right = walk(middle, to);
    for (let i = from; i < to; i++) paths[i]?.push(i < middle ? right : left);
    return nodeHash(left, right);
  };
  return { root: leaves.length === 0 ? treeRoot(leaves) : walk(0, leaves.length), paths };
}

/** Whether `path` leads from `leaf` at `index` to `root` in a tree of `size` leaves (RFC 9162 section 2.1.3.2). */
export function verifyInclusion(
  leaf: Hash,
  index: number,
  size: number,
  path: readonly Hash[],
  root: Hash,
): boolean {
  if (index < 0 || index >= size) return false;
  let node = leaf;
  let at = index;
  let last = size - 1;
  for (const sibling of path) {
    if (last === 0) return false;
    if (at % 2 === 1 || at === last) {
      node = nodeHash(sibling, node);
      while (at % 2 === 0 && at !== 0) {
        at = Math.floor(at / 2);
        last = Math.floor(last / 2);
      }
    } else node = nodeHash(node, sibling);
    at = Math.floor(at / 2);
    last = Math.floor(last / 2);
  }
  return last === 0 && equalHash(node, root);
}

/**
 * The head that a sealed tree adds to the chain: SHA-256 over the earlier head, the root, the size and the number as
 * 64-bit big-endian integers, and the time of sealing as text. The first tree follows 32 zero bytes.
 */
export function chainHead(
  previous: Hash,
  tree: { number: number; size: number; root: Hash; sealedAt: string },
): Hash {
  const counts = new DataView(new ArrayBuffer(16));
  counts.setBigUint64(0, BigInt(tree.number));
  counts.setBigUint64(8, BigInt(tree.size));
  return sha256(
    concat(previous, tree.root, new Uint8Array(counts.buffer), new TextEncoder().encode(tree.sealedAt)),
  );
}

export const FIRST_HEAD: Hash = new Uint8Array(32);

export function equalHash(a: Hash, b: Hash): boolean {
  return a.length === b.length && a.every((byte, i) => byte === b[i]);
}

export function toHex(bytes: Uint8Array): string {
  return Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('');
}

/** Throws a RangeError for what is not an even number of hexadecimal digits. */
export function fromHex(text: string): Uint8Array {
  if (!/^([0-9a-f]{2})*$/i.test(text)) throw new RangeError('not hexadecimal');
  return Uint8Array.from(text.match(/../g) ?? [], (pair) => parseInt(pair, 16));
}

/** The largest power of two smaller than n. */
function split(n: number): number {
  return 2 ** Math.floor(Math.log2(n - 1));
}

function concat(...parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
