import { canonicalDigest } from './canonical.ts';

/** A record that stands elsewhere, and what the ledger says its digest is. */
export interface Witnessed {
  /** As a sentence calls it: `consent record`. */
  readonly what: string;
  readonly id: string;
  readonly digest: string;
  /** The record as it stands now; `undefined` where it is gone. */
  readonly value: unknown;
}

/** What is wrong with a record, in words; `undefined` when it is as it was. */
export function complaintOf({ what, id, digest, value }: Witnessed): string | undefined {
  if (value === undefined) return `The ${what} ${id} is missing, though the ledger tells of it.`;
  return canonicalDigest(value) === digest
    ? undefined
    : `The ${what} ${id} is not as it was when the ledger was told of it.`;
}
