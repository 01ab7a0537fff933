import { sha256 } from '@noble/hashes/sha2.js';

/** A task for a browser: to find a number with which the digest of `seed number` begins with so many zero bits. */
export interface WorkTask {
  readonly seed: string;
  readonly bits: number;
}

/** About a second for a phone, an hour for whoever sends thousands. */
export const WORK_BITS = 17;

export function isSolved({ seed, bits }: WorkTask, answer: string): boolean {
  if (!/^\d{1,12}$/.test(answer)) return false;
  return zeroBits(sha256(new TextEncoder().encode(`${seed} ${answer}`))) >= bits;
}

/** The first number that solves it; for tests and programs. */
export function solve(task: WorkTask): string {
  for (let n = 0; ; n++) if (isSolved(task, String(n))) return String(n);
}

export function zeroBits(bytes: Uint8Array): number {
  let bits = 0;
  for (const b of bytes) {
    if (b === 0) {
      bits += 8;
      continue;
    }
    return bits + Math.clz32(b) - 24;
  }
  return bits;
}
