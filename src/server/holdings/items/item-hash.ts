import { createHash } from 'node:crypto';

/** What a path or a name is looked up by: SHA-256, cut to 16 bytes. */
export function hash16(text: string): Buffer {
  return createHash('sha256').update(text).digest().subarray(0, 16);
}
