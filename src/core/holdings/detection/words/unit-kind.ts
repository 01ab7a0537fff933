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

/** Of units whose lower case is no single unit, or hangs on what stands around. */
export const NO_LOWER = 0;
const lowers = new Uint16Array(65536);
const looked = new Uint8Array(65536);

/** The lower case of a unit, where it is one unit wherever it stands. */
export function lowerOf(unit: number): number {
  if (looked[unit] === 1) return lowers[unit] as number;
  looked[unit] = 1;
  const lower = String.fromCharCode(unit).toLowerCase();
  // A capital sigma is another letter at the end of a word.
  return (lowers[unit] = lower.length === 1 && unit !== 0x3a3 ? lower.charCodeAt(0) : NO_LOWER);
}

/** Of folded units: the kind in the upper half and the lower case in the lower; `ASK` where only the unit itself tells. */
export const FOLDED = new Int32Array(256);
export const ASK = -1;
for (let b = 0; b < 256; b++) FOLDED[b] = b === 1 || b > 127 ? ASK : (kindOf(b) << 16) | lowerOf(b);

/** As in `FOLDED`, of any unit. */
export const lookUp = (unit: number): number => (kindOf(unit) << 16) | lowerOf(unit);
