import { plainSpellings } from '../../../text/plain-spelling.ts';
import { wordsOf, type Tokens } from './token.ts';
import type { PhraseNumbers } from './beginnings.ts';

/** Shorter ones, run together, are other words. */
const SHORTEST_JOINED = 6;

/** Words and phrases, asked of a row of tokens. */
export class PhraseSet {
  readonly #whole = new Map<string, string[][]>();
  readonly #stems = new Map<number, Set<string>>();
  /** Its number in the lexicon; -1 without one. */
  readonly number: number;

  /** In a lexicon, tokens that it has looked at are passed over where no phrase begins. */
  constructor(words: readonly string[], lexicon?: PhraseNumbers) {
    this.number = lexicon ? lexicon.next() : -1;
    for (const entry of words.flatMap((w) => [w, ...plainSpellings(w)])) {
      const stem = entry.endsWith('*');
      const [first, ...rest] = wordsOf(entry);
      if (first === undefined) continue;
      if (stem && rest.length === 0) {
        const stems = this.#stems.get(first.length) ?? new Set<string>();
        this.#stems.set(first.length, stems.add(first));
        lexicon?.addStem(first, this.number);
      } else {
        this.#add(first, rest, lexicon);
        // As names in code and configuration have them: phoneNumber.
        const joined = [first, ...rest].join('');
        if (rest.length > 0 && joined.length >= SHORTEST_JOINED) this.#add(joined, [], lexicon);
      }
    }
  }

  #add(first: string, rest: string[], lexicon: PhraseNumbers | undefined): void {
    this.#whole.set(first, [...(this.#whole.get(first) ?? []), rest]);
    lexicon?.addWord(first, rest[0], this.number);
  }

  /** How many tokens from `i` on, before `to`, are one of these; 0 when none is. */
  matchAt(tokens: Tokens, i: number, to: number): number {
    if (this.number >= 0) {
      const begins = tokens.beginnings(i);
      if (begins === null || (begins && begins.of[this.number] !== 1)) return 0;
      if (begins?.followed.length === 0) return 1;
    }
    const word = tokens.word(i);
    let longest = 0;
    for (const rest of this.#whole.get(word) ?? [])
      if (
        rest.length + 1 > longest &&
        i + rest.length < to &&
        rest.every((r, k) => tokens.word(i + 1 + k) === r)
      )
        longest = rest.length + 1;
    if (longest > 0) return longest;
    for (const [length, stems] of this.#stems)
      if (word.length >= length && stems.has(word.slice(0, length))) return 1;
    return 0;
  }
}
