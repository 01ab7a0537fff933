/** A value with its letters and digits covered: `ends` leaves the last two of a short, the first and last two of a long one. */
export function mask(value: string, how: 'ends' | 'all' | 'none'): string {
  if (how === 'none') return value;
  if (value.length <= LONGEST_AT_ONCE && ASCII.test(value)) return maskAscii(value, how);
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

const ASCII = /^[\0-\x7f]*$/;
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

const LETTERS: Readonly<Record<string, string>> = {
  ø: 'o',
  Ø: 'O',
  æ: 'ae',
  Æ: 'AE',
  œ: 'oe',
  Œ: 'OE',
  ß: 'ss',
  ł: 'l',
  Ł: 'L',
  đ: 'd',
  Đ: 'D',
  ð: 'd',
  Ð: 'D',
  þ: 'th',
  Þ: 'Th',
  ı: 'i',
};

/** Letters that Unicode does not take apart, in those that stand for them elsewhere. */
function foldLetters(value: string): string {
  return value.replace(/[øØæÆœŒßłŁđĐðÐþÞı]/g, (c) => LETTERS[c] ?? c);
}

/** A value as it is compared: without case, marks, blanks and signs. */
export function comparable(value: string): string {
  const bare = ASCII.test(value)
    ? kept(value, isAlnum).toLowerCase()
    : foldLetters(value)
        .normalize('NFKD')
        .replace(/[^\p{L}\p{N}]+/gu, '')
        .toLowerCase();
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
