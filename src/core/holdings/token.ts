import type { Beginnings } from './vocabulary.ts';
import { kindOf, NEITHER } from './unit-kind.ts';

/** A word or number of a text, folded to lower case, with its place. */
export interface Token {
  readonly word: string;
  readonly start: number;
  readonly end: number;
}

/** Tokens in a row, by index. */
export interface Tokens {
  start(i: number): number;
  end(i: number): number;
  word(i: number): string;
  /** What begins with the token: `undefined` where nobody has looked, and `null` where nothing does. */
  beginnings(i: number): Beginnings | null | undefined;
}

/** Tokens of which nobody knows what begins with them. */
export class TokenList implements Tokens {
  constructor(readonly list: readonly Token[]) {}

  start(i: number): number {
    return (this.list[i] as Token).start;
  }

  end(i: number): number {
    return (this.list[i] as Token).end;
  }

  word(i: number): string {
    return (this.list[i] as Token).word;
  }

  beginnings(): undefined {
    return undefined;
  }
}

/** The words and numbers of a stretch of text. */
export function tokenize(text: string, from: number, to: number): readonly Token[] {
  const out: Token[] = [];
  let i = from;
  while (i < to) {
    const kind = kindOf(text.charCodeAt(i));
    if (kind === NEITHER) {
      i++;
      continue;
    }
    const start = i;
    do i++;
    while (i < to && kindOf(text.charCodeAt(i)) === kind);
    out.push({ word: text.slice(start, i).toLowerCase(), start, end: i });
  }
  return out;
}

export function wordsOf(text: string): string[] {
  return tokenize(text, 0, text.length).map((t) => t.word);
}

/** What parts the names in a heading that has several, and what is said of one in brackets. */
const BETWEEN_NAMES = /[/,;|&+()[\]]|(?<!\p{L})(?:or|and|eller|og|och|oder|und)(?!\p{L})/u;

/**
 * A heading or field name as words: `dateOfBirth`, `date_of_birth` and `Date of birth` are the same. Of several names
 * in it, each for itself.
 */
export function headingTokens(heading: string): readonly (readonly Token[])[] {
  const spaced = heading
    .replace(/(\p{Ll}|\p{N})(?=\p{Lu})/gu, '$1 ')
    .replace(/(\p{Lu})(?=\p{Lu}\p{Ll})/gu, '$1 ');
  return spaced
    .split(BETWEEN_NAMES)
    .map((part) => tokenize(part, 0, part.length))
    .filter((tokens) => tokens.length > 0);
}
