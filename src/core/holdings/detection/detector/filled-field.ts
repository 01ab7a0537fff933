import type { AnchorFunction, CellReader } from './anchor-function.ts';
import { trimmed } from '../../../text/trimmed.ts';

/** What was written into a field, whole. */
export const FILLED_FIELD: AnchorFunction = {
  words: [],
  plainWords: [],
  signs: [],
  atSign: () => undefined,
  at: () => undefined,
  cell: (text, start, end) => {
    const [a, b] = trimmed(text, start, end);
    const value = text.slice(a, b);
    if (
      b - a < 2 ||
      /^(?:no|none|nej|ingen|nein|keine?|n\/?a|null|undefined|false|true|yes|ja|-+|\?+|unknown|ukendt|okänd|unbekannt|nil|0)\.?$/i.test(
        value,
      )
    )
      return undefined;
    return { start: a, end: b, steps: [{ words: 'a filled field', steps: 0 }] };
  },
};

/** What was written into a field, where all of it is written like the pattern. */
export function writtenField(pattern: string, ignoreCase: boolean): CellReader {
  const whole = new RegExp(`^(?:${pattern})$`, ignoreCase ? 'iu' : 'u');
  return {
    cell: (text, start, end) => {
      const [a, b] = trimmed(text, start, end);
      return whole.test(text.slice(a, b)) ? { start: a, end: b, steps: [] } : undefined;
    },
  };
}
