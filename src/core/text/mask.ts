import { bareLetters } from './plain-spelling.ts';

/** A value with its letters and digits covered: `ends` leaves the last two of a short, the first and last two of a long one. */
export function mask(value: string, how: 'ends' | 'all' | 'none'): string {
  if (how === 'none') return value;
  if (value.length <= LONGEST_AT_ONCE && (traitsOf(value) & WIDE) === 0) return maskAscii(value, how);
  const signs = [...value];
  const letters = signs.filter((c) => /[\p{L}\p{N}]/u.test(c)).length;
  const first = how === 'ends' && letters >= 10 ? 2 : 0;
  const last = how === 'ends' && letters >= 6 ? 2 : 0;
  let seen = 0;
  return signs
    .map((c) => {
      if (!/[\p{L}\p{N}]/u.test(c)) return c;
      seen++;
      return seen <= first || seen > letters - last ? c : '•';
    })
    .join('');
}

/** What a value has in it: signs beyond ASCII, signs that are no letter or digit, capitals. */
const WIDE = 1;
const SIGNS = 2;
const CAPITALS = 4;

function traitsOf(value: string): number {
  let traits = 0;
  for (let i = 0; i < value.length; i++) {
    const unit = value.charCodeAt(i);
    if (unit > 127) return WIDE;
    if (!isAlnum(unit)) traits |= SIGNS;
    else if (unit >= 65 && unit <= 90) traits |= CAPITALS;
  }
  return traits;
}

const LONGEST_AT_ONCE = 4096;
const COVER = '•'.charCodeAt(0);
const isAlnum = (u: number) => (u >= 48 && u <= 57) || ((u | 32) >= 97 && (u | 32) <= 122);

function maskAscii(value: string, how: 'ends' | 'all'): string {
  let letters = 0;
  for (let i = 0; i < value.length; i++) if (isAlnum(value.charCodeAt(i))) letters++;
  const first = how === 'ends' && letters >= 10 ? 2 : 0;
  const last = how === 'ends' && letters >= 6 ? 2 : 0;
  const units = new Array<number>(value.length);
  let seen = 0;
  for (let i = 0; i < value.length; i++) {
    const unit = value.charCodeAt(i);
    units[i] = isAlnum(unit) && ++seen > first && seen <= letters - last ? COVER : unit;
  }
  return String.fromCharCode(...units);
}

/** A value as it is compared: without case, marks, blanks and signs. */
export function comparable(value: string): string {
  const traits = traitsOf(value);
  // Most values are plain: nothing is made that need not be.
  let bare = value;
  if ((traits & WIDE) !== 0)
    bare = bareLetters(value)
      .normalize('NFKD')
      .replace(/[^\p{L}\p{N}]+/gu, '')
      .toLowerCase();
  else {
    if ((traits & SIGNS) !== 0) bare = kept(bare, isAlnum);
    if ((traits & CAPITALS) !== 0) bare = bare.toLowerCase();
  }
  return bare === '' ? value : bare;
}

/** The digits of ASCII in a value. */
export const digitsOf = (value: string): string => kept(value, isDigit);

const isDigit = (u: number) => u >= 48 && u <= 57;

/** The units of a value that are wanted; values are short, and a pattern costs more. */
function kept(value: string, isWanted: (unit: number) => boolean): string {
  let out = '';
  let from = 0;
  for (let i = 0; i <= value.length; i++) {
    if (i < value.length && isWanted(value.charCodeAt(i))) continue;
    if (i > from) out += value.slice(from, i);
    from = i + 1;
  }
  return out;
}
