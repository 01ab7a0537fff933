const LETTERS: Readonly<Record<string, string>> = {
  æ: 'ae',
  ä: 'ae',
  ø: 'oe',
  ö: 'oe',
  å: 'aa',
  ü: 'ue',
  ß: 'ss',
  þ: 'th',
  ð: 'd',
  ł: 'l',
};
const SPECIAL = new RegExp(`[${Object.keys(LETTERS).join('')}]`, 'gi');
const SHORT: Readonly<Record<string, string>> = { æ: 'ae', ø: 'o', ß: 'ss' };
/** Shorter words are other words without their marks: `på`, `för`. */
const SHORTEST_BARE = 5;

/** In as many capitals as there were. */
const like = (letter: string, plain: string): string =>
  letter === letter.toLowerCase() ? plain : plain.slice(0, 1).toUpperCase() + plain.slice(1);

/**
 * How words are written where only ASCII is to be had: `fødselsdato` as `foedselsdato` and `fodselsdato`.
 * Empty where they are of ASCII, or cannot be written so.
 */
export function plainSpellings(words: string): readonly string[] {
  if (isAscii(words)) return [];
  const bare = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '');
  const long = bare(words.replace(SPECIAL, (l) => like(l, LETTERS[l.toLowerCase()] as string)));
  const short = bare(words.replace(/[æøß]/gi, (l) => like(l, SHORT[l.toLowerCase()] as string)));
  const all = short.length >= SHORTEST_BARE ? [long, short] : [long];
  return [...new Set(all)].filter(isAscii);
}

const isAscii = (text: string) => /^[ -~]*$/.test(text);
