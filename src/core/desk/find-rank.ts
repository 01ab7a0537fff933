/** What Find weighs of something found. */
export interface Ranked {
  readonly kind: string;
  readonly words: string;
  readonly detail: string;
}

/** Lower case, without accents: `ærø` stays, `é` is `e`. */
export function folded(text: string): string {
  return text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();
}

/** The words that somebody typed, each once. */
export function typedWords(text: string): readonly string[] {
  return [...new Set(folded(text).split(/\s+/).filter(Boolean))];
}

/**
 * How well something fits what was typed, more is better; `undefined` where a word of it stands nowhere. Its name as a
 * whole goes before its beginning, that before the beginning of a word in it, that before a part of one, and all of these
 * before what stands in its kind or detail alone.
 */
export function fit(typed: string, { kind, words, detail }: Ranked): number | undefined {
  const beside = folded(`${kind} ${detail}`);
  return fitOf(folded(words), wantedBy(typed), (word) => beside.includes(word));
}

/** What somebody typed, as names are looked through for it. */
export interface Wanted {
  readonly whole: string;
  readonly words: readonly string[];
}

export function wantedBy(typed: string): Wanted {
  return { whole: folded(typed).trim().replace(/\s+/g, ' '), words: typedWords(typed) };
}

/** The same of a name that is folded already; `isBeside` says whether the word of a number stands beside it. */
export function fitOf(
  name: string,
  { whole, words }: Wanted,
  isBeside: (word: string, number: number) => boolean,
): number | undefined {
  let sum = 0;
  for (let n = 0; n < words.length; n++) {
    const word = words[n] as string;
    const first = name.indexOf(word);
    const at = first < 0 ? undefined : beginningIn(name, word, first);
    if (at !== undefined) sum += at === 0 ? 100 : 80;
    else if (first >= 0) sum += 40;
    else if (isBeside(word, n)) sum += 10;
    else return undefined;
  }
  if (name.startsWith(whole)) sum += name.length === whole.length ? 1000 : 500;
  // Of two that fit alike, the one that says less besides.
  return sum - Math.min(9, name.length / 40);
}

/** Where a word of a name begins so, from where it stands first on: its place in letters. */
function beginningIn(name: string, word: string, first: number): number | undefined {
  for (let at = first; at >= 0; at = name.indexOf(word, at + 1))
    if (at === 0 || !isLetter(name, at - 1)) return at;
  return undefined;
}

/**
 * The best first, as many as are asked for, each once. What an area found for all that was typed stands even where what is
 * told of it does not say why; of what it found for a part of it, what does not fit is left out.
 */
export function ranked<T extends Ranked & { readonly link: string }>(
  typed: string,
  { whole, part }: { readonly whole: readonly T[]; readonly part: readonly T[] },
  most: number,
): readonly T[] {
  const fits = new Map<string, { readonly one: T; readonly fit: number }>();
  for (const [i, one] of [...whole, ...part].entries()) {
    const how = fit(typed, one) ?? (i < whole.length ? 0 : undefined);
    const key = `${one.kind} ${one.link}`;
    if (how !== undefined && (fits.get(key)?.fit ?? -Infinity) < how) fits.set(key, { one, fit: how });
  }
  return [...fits.values()]
    .toSorted((a, b) => b.fit - a.fit || (a.one.words < b.one.words ? -1 : 1))
    .slice(0, most)
    .map((f) => f.one);
}

const LETTER = /[\p{L}\p{N}]/u;

/** Of a folded name, where most signs are of ASCII. */
function isLetter(name: string, at: number): boolean {
  const code = name.charCodeAt(at);
  if (code < 128) return (code >= 97 && code <= 122) || (code >= 48 && code <= 57);
  return LETTER.test(name[at] as string);
}
