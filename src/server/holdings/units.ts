import { isAscii } from 'node:buffer';
import { foldUnits } from '../../core/holdings/code-shape.ts';

/** The folded units of a text, by the quickest way there is. */
export function unitsOf(text: string): Uint8Array {
  return /[^\0-\xff]/.test(text) ? foldUnits(text) : Buffer.from(text, 'latin1');
}

/** A piece of plain ASCII as text and units at once; `undefined` where it holds anything else. */
export function asciiPiece(bytes: Buffer): { readonly text: string; readonly units: Uint8Array } | undefined {
  return isAscii(bytes) ? { text: bytes.toString('latin1'), units: bytes } : undefined;
}
