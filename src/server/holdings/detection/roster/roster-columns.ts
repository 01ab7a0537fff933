import { createHash } from 'node:crypto';
import type { RosterDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';

/** The columns a roster is made with; builds of the same can take each other’s place. */
export function columnsDigest(of: Pick<RosterDetector, 'keys' | 'beside'>): Buffer {
  return createHash('sha256')
    .update(JSON.stringify([of.keys, of.beside]))
    .digest();
}
