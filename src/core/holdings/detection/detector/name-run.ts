const TOKEN =
  /(?:\p{Lu}[\p{Ll}\p{M}]+(?:['’-]\p{L}[\p{Ll}\p{M}]*)*|(?:Mc|Mac|Fitz|O['’]|D['’])\p{Lu}\p{Ll}+(?:-\p{Lu}\p{Ll}+)?|\p{Lu}{2,}(?:['’-]\p{Lu}{2,})*|\p{Lu}\.?)(?![\p{L}\p{N}@_])/uy;
const PARTICLE =
  /(?:von der|van der|van den|van de|von|van|zu|zum|zur|de la|de los|del|della|der|den|ter|ten|de|di|da|dos|das|du|le|la|af|av|bin|al|el)(?= )/uy;

export function tokenAt(text: string, at: number): string | undefined {
  TOKEN.lastIndex = at;
  return TOKEN.exec(text)?.[0];
}

export const isInitial = (word: string): boolean => /^\p{Lu}\.?$/u.test(word);

/**
 * The run of name-like words from `at`: given names, initials, particles, surnames. A word for which `isNoName`, in
 * lower case, holds ends it; an initial does not.
 */
export function nameFrom(
  text: string,
  at: number,
  isNoName: (word: string) => boolean,
): { readonly end: number; readonly words: readonly string[] } {
  const words: string[] = [];
  let i = at;
  let end = at;
  while (words.length < 5) {
    const token = tokenAt(text, i);
    if (token === undefined) {
      if (words.length === 0) break;
      PARTICLE.lastIndex = i;
      const particle = PARTICLE.exec(text)?.[0];
      if (!particle) break;
      const next = tokenAt(text, i + particle.length + 1);
      if (!next || next.length < 2) break;
      i += particle.length + 1;
      continue;
    }
    if (words.length > 0 && isNoName(token.toLowerCase())) break;
    // What somebody has is told with an s that is no part of the name.
    const own = /['’]s$/.test(token) ? token.slice(0, -2) : token;
    words.push(own);
    end = i + own.length;
    if (own !== token) break;
    // Initials may stand close together.
    const gap = /^[ \u00a0]/.test(text.slice(end, end + 1)) ? 1 : 0;
    if (gap === 0 && !own.endsWith('.')) break;
    i = end + gap;
  }
  while (words.length > 1 && isInitial(words.at(-1) as string)) {
    end -= (words.pop() as string).length;
    while (/\s/.test(text[end - 1] ?? '')) end--;
  }
  return { end, words };
}

/** The one to three words with capitals right before `at`, on the same line. */
export function nameUpTo(
  text: string,
  at: number,
): readonly { readonly text: string; readonly start: number }[] {
  const from = Math.max(0, at - 60);
  const before = text.slice(from, at);
  const m =
    /(?<![\p{L}\p{N}@_.\-/’'])((?:\p{Lu}[\p{Ll}\p{M}]+(?:-\p{Lu}?[\p{Ll}\p{M}]+)?|\p{Lu}\.?)(?:[ \u00a0](?:\p{Lu}[\p{Ll}\p{M}]+|\p{Lu}\.?)|(?<=\.)\p{Lu}\.){0,2})[ \u00a0](?:(?:von|van|de|der|den|af|av|bin|al|el|da|dos|du|la|le|di)[ \u00a0]){0,2}$/u.exec(
      before,
    );
  if (!m) return [];
  const words = [...(m[1] as string).matchAll(/[^ \u00a0]+/g)];
  return words.map((w) => ({ text: w[0], start: from + m.index + w.index }));
}
