/**
 * The shape of text: what kind of sign stands at each place. Two texts of one shape can be told apart only by their
 * letters and digits, so what a pattern can match is settled once a shape. Digits read `0`, capitals `A`, other letters
 * `a`, blanks ` `; ASCII signs and line ends stand for themselves; all else is `¤`.
 */
export const OTHER = '¤';

const TABLE = new Uint8Array(256);
for (let u = 0; u < 256; u++) TABLE[u] = shapeOf(u).charCodeAt(0);
// As a folded unit, it is all that has no other.
TABLE[1] = OTHER.charCodeAt(0);

export function shapeOf(unit: number): string {
  if (unit >= 48 && unit <= 57) return '0';
  if ((unit >= 65 && unit <= 90) || (unit >= 0xc0 && unit <= 0xde && unit !== 0xd7)) return 'A';
  if ((unit >= 97 && unit <= 122) || (unit >= 0xdf && unit <= 0xff && unit !== 0xf7)) return 'a';
  if (unit === 32 || unit === 9 || unit === 0xa0) return ' ';
  if (unit < 128) return String.fromCharCode(unit);
  if (unit < 256) return unit === 0xaa || unit === 0xb5 || unit === 0xba ? 'a' : OTHER;
  const c = String.fromCharCode(unit);
  if (/\p{Lu}/u.test(c)) return 'A';
  if (/\p{L}/u.test(c)) return 'a';
  return /\s/.test(c) ? ' ' : OTHER;
}

/**
 * The units of a text folded to bytes, one for one: Latin-1 stands for itself, other letters for some letter of
 * Latin-1 (capitals for capitals), other blanks for a blank, all else for 1. What is sought in bytes is found in text at the same index.
 */
export function foldUnits(text: string): Uint8Array<ArrayBuffer> {
  const units = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) {
    const u = text.charCodeAt(i);
    units[i] = u < 256 ? u : foldOf(u);
  }
  return units;
}

const folded = new Uint8Array(65536);
/** Letters beyond Latin-1 fold to so many bytes from here on; capitals to their capitals. */
const WAYS = 23;
const LETTERS_FROM = 0xe0;
const CAPITALS_FROM = 0xc0;

/** The byte for one UTF-16 unit. */
export function foldOf(unit: number): number {
  if (unit < 256) return unit;
  const known = folded[unit] as number;
  if (known !== 0) return known;
  const shape = shapeOf(unit);
  let byte = 1;
  if (shape === ' ') byte = 32;
  else if (shape === 'A' || shape === 'a') {
    const lower = String.fromCharCode(unit).toLowerCase().charCodeAt(0);
    byte = (shape === 'A' ? CAPITALS_FROM : LETTERS_FROM) + (lower % WAYS);
  }
  return (folded[unit] = byte);
}

/** The bytes that a unit of a pattern, or the others that it stands for, may have in a folded text. */
export function foldsOf(unit: number): readonly number[] {
  if (unit < 256) return [unit];
  const shape = unit > 0xffff ? '' : shapeOf(unit);
  if (shape !== 'A' && shape !== 'a') return [unit > 0xffff ? 1 : foldOf(unit)];
  return Array.from({ length: WAYS }, (_, way) => (shape === 'A' ? CAPITALS_FROM : LETTERS_FROM) + way);
}

const bytesOfUnits = new WeakMap<readonly number[], readonly number[]>();

/** As `foldsOf`, of all units of a list that is asked for again and again. */
export function allFoldsOf(units: readonly number[]): readonly number[] {
  let bytes = bytesOfUnits.get(units);
  if (!bytes) bytesOfUnits.set(units, (bytes = [...new Set(units.flatMap(foldsOf))]));
  return bytes;
}

/** Lower case of a folded byte. */
export const LOWER = new Uint8Array(256);
for (let u = 0; u < 256; u++)
  LOWER[u] = (u >= 65 && u <= 90) || (u >= 0xc0 && u <= 0xde && u !== 0xd7) ? u + 32 : u;

export function isLetter(byte: number): boolean {
  const s = TABLE[byte];
  return s === 65 || s === 97;
}

/**
 * The shape of the bytes in [from, to) around a cluster of digits: `0` its own, `9` those of others. Writes its codes
 * into `out`, and answers a hash of them.
 */
export function shapeCodes(
  units: Uint8Array,
  from: number,
  to: number,
  cluster: { readonly from: number; readonly to: number },
  out: Uint8Array,
): number {
  const { from: first, to: end } = cluster;
  let hash = to - from;
  for (let i = from; i < to; i++) {
    let code = TABLE[units[i] as number] as number;
    if (code === 48 && (i < first || i >= end)) code = 57;
    out[i - from] = code;
    hash = Math.imul(hash ^ code, 0x01000193);
  }
  return hash;
}

/** A text in lower case, folded the way a scan folds it. */
export function foldedPrefix(text: string): number[] {
  return Array.from({ length: text.length }, (_, i) => LOWER[foldOf(text.charCodeAt(i))] as number);
}
