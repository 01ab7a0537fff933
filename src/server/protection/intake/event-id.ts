import { createHash } from 'node:crypto';

/** The number of an event that brings none of ours: the same of the same. 16 bytes in hexadecimal. */
export function eventIdOf(...parts: readonly string[]): string {
  const hash = createHash('sha256');
  for (const part of parts) hash.update(`${Buffer.byteLength(part)} `).update(part);
  return hash.digest('hex').slice(0, 32);
}
