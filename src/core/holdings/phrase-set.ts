import { wordsOf, type Token } from './token.ts';

/** Words and phrases, asked of a row of tokens. */
export class PhraseSet {
  readonly #whole = new Map<string, string[][]>();
  readonly #stems = new Map<number, Set<string>>();
  /** Its number in the vocabulary; -1 without one. */
  readonly #number: number;

  /** In a vocabulary, tokens that it has looked at are passed over where no phrase begins. */
  constructor(words: readonly string[], vocabulary?: Vocabulary) {
    this.#number = vocabulary ? vocabulary.next() : -1;
    for (const entry of words) {
      const stem = entry.endsWith('*');
      const [first, ...rest] = wordsOf(entry);
      if (first === undefined) continue;
      if (stem && rest.length === 0) {
        const stems = this.#stems.get(first.length) ?? new Set<string>();
        this.#stems.set(first.length, stems.add(first));
        vocabulary?.addStem(first, this.#number);
      } else {
        this.#whole.set(first, [...(this.#whole.get(first) ?? []), rest]);
        vocabulary?.addWord(first, this.#number);
      }
    }
  }

  /** How many tokens from `i` on, before `to`, are one of these; 0 when none is. */
  matchAt(tokens: readonly Token[], i: number, to = tokens.length): number {
    const { word, begins } = tokens[i] as Token;
    if (begins && this.#number >= 0 && begins[this.#number] !== 1) return 0;
    let longest = 0;
    for (const rest of this.#whole.get(word) ?? [])
      if (
        rest.length + 1 > longest &&
        i + rest.length < to &&
        rest.every((r, k) => tokens[i + 1 + k]?.word === r)
      )
        longest = rest.length + 1;
    if (longest > 0) return longest;
    for (const [length, stems] of this.#stems)
      if (word.length >= length && stems.has(word.slice(0, length))) return 1;
    return 0;
  }
}

const MOST_WORDS = 100_000;
const NONE = new Uint8Array(0);

/** The words that the phrases of many sets begin with, so that a word of a text is looked up once for all of them. */
export class Vocabulary {
  #sets = 0;
  readonly #whole = new Map<string, number[]>();
  readonly #stems = new Map<number, Map<string, number[]>>();
  readonly #known = new Map<string, Uint8Array>();

  next(): number {
    this.#known.clear();
    return this.#sets++;
  }

  addWord(word: string, set: number): void {
    this.#whole.set(word, [...(this.#whole.get(word) ?? []), set]);
  }

  addStem(stem: string, set: number): void {
    const stems = this.#stems.get(stem.length) ?? new Map<string, number[]>();
    this.#stems.set(stem.length, stems.set(stem, [...(stems.get(stem) ?? []), set]));
  }

  /** By the number of a set: 1 where a phrase of it begins with this word. */
  begins(word: string): Uint8Array {
    let known = this.#known.get(word);
    if (known) return known;
    const sets = [...(this.#whole.get(word) ?? [])];
    for (const [length, stems] of this.#stems)
      if (word.length >= length) sets.push(...(stems.get(word.slice(0, length)) ?? []));
    known = NONE;
    if (sets.length > 0) {
      known = new Uint8Array(this.#sets);
      for (const set of sets) known[set] = 1;
    }
    if (this.#known.size >= MOST_WORDS) this.#known.clear();
    this.#known.set(word, known);
    return known;
  }
}
