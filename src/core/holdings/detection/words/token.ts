import type { Beginnings } from './beginnings.ts';
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
