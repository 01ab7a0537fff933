// What other areas may use of this one.
export { canonicalDigest } from './canonical.ts';
export { entryLeaf, LedgerEntry, LedgerTree } from './ledger.ts';
export { chainHead, fromHex, leafHash, toHex, treeRoot, verifyInclusion } from './merkle.ts';
