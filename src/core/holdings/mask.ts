/** A value with its letters and digits covered: `ends` leaves the last two of a short, the first and last two of a long one. */
export function mask(value: string, how: 'ends' | 'all' | 'none'): string {
  if (how === 'none') return value;
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

/** A value as it is compared: without case, marks, blanks and signs. */
export function comparable(value: string): string {
  const bare = value
    .normalize('NFKD')
    .replace(/[^\p{L}\p{N}]+/gu, '')
    .toLowerCase();
  return bare === '' ? value : bare;
}
