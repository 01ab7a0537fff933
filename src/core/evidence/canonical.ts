import canonicalize from 'canonicalize';
import { sha256 } from '@noble/hashes/sha2.js';
import { toHex } from './merkle.ts';

/** SHA-256 over the RFC 8785 canonical JSON of a value, in hexadecimal: what the ledger keeps of a record elsewhere. */
export function canonicalDigest(value: unknown): string {
  return toHex(sha256(new TextEncoder().encode(canonicalize(value))));
}
