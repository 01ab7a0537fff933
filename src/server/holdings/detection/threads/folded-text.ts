import { foldUnits } from '../../../../core/holdings/detection/pattern/code-shape.ts';

/** The folded units of a text, by the quickest way there is. */
export function unitsOf(text: string): Uint8Array {
  return /[^\0-\xff]/.test(text) ? foldUnits(text) : Buffer.from(text, 'latin1');
}
