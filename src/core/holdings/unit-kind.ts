export const LETTER = 1;
export const DIGIT = 2;
export const NEITHER = 3;

/** What each UTF-16 unit is; 0 not known yet. */
const kinds = new Uint8Array(65536);

export function kindOf(unit: number): number {
  const known = kinds[unit] as number;
  if (known !== 0) return known;
  const c = String.fromCharCode(unit);
  // Halves of pairs are taken for letters: scripts beyond the first plane are.
  const kind =
    (unit >= 0xd800 && unit <= 0xdfff) || /[\p{L}\p{M}]/u.test(c)
      ? LETTER
      : /\p{N}/u.test(c)
        ? DIGIT
        : NEITHER;
  return (kinds[unit] = kind);
}
