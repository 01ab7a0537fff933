import { firstFrom } from './by-start.ts';
import type { Token } from './token.ts';
import { NEITHER } from './unit-kind.ts';
import { aboutUnit, type Vocabulary } from './vocabulary.ts';

/** Tokens in [low, high) of an array. */
export interface TokenSpan {
  readonly tokens: readonly Token[];
  readonly low: number;
  readonly high: number;
  /** By the number of a set of phrases: 1 where one of the tokens, or one nearby, begins one of its phrases. Absent where nobody has looked. */
  readonly begun?: Uint8Array;
}

/** Units read at once beyond those asked for. */
const AHEAD = 12;
const MOST_TOKENS = 4096;
const LONGEST_WORD = 256;

/** The tokens of one part of a text, read once for all who ask for stretches of it; it moves along with them. */
export class TokenRow {
  #tokens: Token[] = [];
  #from = 0;
  #to = 0;
  #begun: Uint8Array;

  constructor(
    readonly text: string,
    /** The folded units of the text. */
    readonly units: Uint8Array,
    readonly vocabulary: Vocabulary,
  ) {
    this.#begun = new Uint8Array(vocabulary.sets);
  }

  /** The tokens that begin in [from, to); `undefined` where one crosses an end that is said to be `sharp`. */
  within(from: number, to: number, sharp: { from: boolean; to: boolean }): TokenSpan | undefined {
    if (from >= to) return { ...EMPTY, begun: this.#begun };
    if ((sharp.from && this.#isWithin(from)) || (sharp.to && this.#isWithin(to))) return undefined;
    this.#reach(from, to);
    const tokens = this.#tokens;
    return { tokens, begun: this.#begun, low: firstFrom(tokens, from), high: firstFrom(tokens, to) };
  }

  /** Whether a word stands on both sides of `at`. */
  #isWithin(at: number): boolean {
    const { text, units } = this;
    if (at <= 0 || at >= text.length) return false;
    const kind = aboutUnit(text, units, at) >> 16;
    return kind !== NEITHER && kind === aboutUnit(text, units, at - 1) >> 16;
  }

  #reach(from: number, to: number): void {
    if (this.#tokens.length > MOST_TOKENS || from > this.#to + AHEAD || to < this.#from - AHEAD) {
      this.#tokens = [];
      this.#begun = new Uint8Array(this.vocabulary.sets);
      this.#from = this.#to = this.#edge(from, -1);
    }
    if (to > this.#to) {
      const end = this.#edge(to + AHEAD, 1);
      this.#tokens.push(...this.#read(this.#to, end));
      this.#to = end;
    }
    if (from < this.#from) {
      const start = this.#edge(from - AHEAD, -1);
      // Others hold on to the array as it was.
      this.#tokens = [...this.#read(start, this.#from), ...this.#tokens];
      this.#from = start;
    }
  }

  /** `at`, or where the word that it stands in begins or ends. */
  #edge(at: number, way: -1 | 1): number {
    let edge = Math.max(0, Math.min(this.text.length, at));
    for (let n = 0; n < LONGEST_WORD && this.#isWithin(edge); n++) edge += way;
    return edge;
  }

  #read(from: number, to: number): readonly Token[] {
    const tokens = this.vocabulary.tokenize(this.text, this.units, from, to);
    for (const { begins } of tokens) for (const set of begins?.sets ?? []) this.#begun[set] = 1;
    return tokens;
  }
}

const EMPTY: TokenSpan = { tokens: [], low: 0, high: 0 };
