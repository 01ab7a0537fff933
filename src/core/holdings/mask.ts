/** A value with its letters and digits covered: `ends` leaves the last two of a short, the first and last two of a long one. */
export function mask(value: string, how: 'ends' | 'all' | 'none'): string {
  if (how === 'none') return value;
  if (ASCII.test(value)) return maskAscii(value, how);
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
const isAlnum = (u: number) => (u >= 48 && u <= 57) || ((u | 32) >= 97 && (u | 32) <= 122);

function maskAscii(value: string, how: 'ends' | 'all'): string {
  let letters = 0;
  for (let i = 0; i < value.length; i++) if (isAlnum(value.charCodeAt(i))) letters++;
  const first = how === 'ends' && letters >= 10 ? 2 : 0;
  const last = how === 'ends' && letters >= 6 ? 2 : 0;
  let seen = 0;
  let out = '';
  for (let i = 0; i < value.length; i++) {
    const covered = isAlnum(value.charCodeAt(i)) && ++seen > first && seen <= letters - last;
    out += covered ? '•' : value[i];
  }
  return out;
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
    ? value.replace(/[^0-9A-Za-z]+/g, '').toLowerCase()
    : foldLetters(value)
        .normalize('NFKD')
        .replace(/[^\p{L}\p{N}]+/gu, '')
        .toLowerCase();
  return bare === '' ? value : bare;
}
