/** Letters that Unicode does not take apart, as the one that is nearest. */
const NEAREST: Readonly<Record<string, string>> = {
  ø: 'o',
  æ: 'ae',
  œ: 'oe',
  ß: 'ss',
  ł: 'l',
  đ: 'd',
  ð: 'd',
  þ: 'th',
  ı: 'i',
};
/** Letters that are two where their own are not to be had. */
const DOUBLED: Readonly<Record<string, string>> = { ä: 'ae', ø: 'oe', ö: 'oe', å: 'aa', ü: 'ue' };
/** Shorter words are other words without their marks: `på`, `för`. */
const SHORTEST_BARE = 5;

function replaced(text: string, letters: Readonly<Record<string, string>>): string {
  return text.replace(/[^\0-\x7f]/g, (letter) => {
    const plain = letters[letter.toLowerCase()];
    if (plain === undefined) return letter;
    return letter === letter.toLowerCase() ? plain : plain.slice(0, 1).toUpperCase() + plain.slice(1);
  });
}

/** With the nearest letters in place of those that Unicode does not take apart. */
export const bareLetters = (text: string): string => replaced(text, NEAREST);

/**
 * How words are written where only ASCII is to be had: `fødselsdato` as `foedselsdato` and `fodselsdato`. Empty where
 * they are of ASCII, or cannot be written so.
 */
export function plainSpellings(words: string): readonly string[] {
  if (isAscii(words)) return [];
  const unmarked = (text: string) => bareLetters(text).normalize('NFD').replace(/\p{M}/gu, '');
  const short = unmarked(words);
  const long = unmarked(replaced(words, DOUBLED));
  const all = short.length >= SHORTEST_BARE ? [long, short] : [long];
  return [...new Set(all)].filter(isAscii);
}

const isAscii = (text: string) => /^[ -~]*$/.test(text);
