import { headingTokens } from '../words/heading.ts';
import { isCell, type Segment } from '../../../text/segment.ts';
import { tokenize, TokenList, type Token } from '../words/token.ts';
import { TokenRow, type TokenSpan } from '../words/token-row.ts';
import { kindOf, NEITHER } from '../words/unit-kind.ts';

const SENTENCE = 300;
const LINE = 400;
/** The longest phrase that is looked for, in UTF-16 units. */
export const PHRASE = 40;
/** The farthest any context reaches, in UTF-16 units. */
export const FARTHEST_CONTEXT = 400;

/** What stands around one match; the tokens are read once and asked by every detector that matched there. */
export class Surroundings {
  #before = NO_TOKENS;
  #beforeFrom = Infinity;
  #after = NO_TOKENS;
  #afterTo = -1;
  /** The part of the row that these are in. */
  #part = 0;
  #heading: readonly TokenSpan[] | undefined;
  #wider: Map<string, Sides> | undefined;
  readonly low: number;
  readonly high: number;

  constructor(
    readonly text: string,
    readonly start: number,
    readonly end: number,
    readonly segment: Segment | undefined,
    readonly record: readonly [number, number] | undefined,
    readonly row?: TokenRow,
  ) {
    const cell = segment && isCell(segment);
    this.low = cell ? segment.start : 0;
    this.high = cell ? Math.min(segment.end, text.length) : text.length;
  }

  /** The words before it, at least as far as `within`. */
  before(within: number): TokenSpan {
    // A phrase may begin farther off than it ends.
    const from = Math.max(this.low, this.start - within - PHRASE);
    this.#keepUp();
    if (from < this.#beforeFrom) {
      const read = this.#read(from, this.start);
      this.#before = read;
      this.#beforeFrom = from;
    }
    return this.#before;
  }

  /** The words after it, at least as far as `within`. */
  after(within: number): TokenSpan {
    const to = Math.min(this.high, this.end + within + PHRASE);
    this.#keepUp();
    if (to > this.#afterTo) {
      const read = this.#read(this.end, to);
      this.#after = read;
      this.#afterTo = to;
    }
    return this.#after;
  }

  /** Forgets what the row has moved away from. */
  #keepUp(): void {
    const part = this.row?.part ?? 0;
    if (part === this.#part) return;
    this.#part = part;
    this.#beforeFrom = Infinity;
    this.#afterTo = -1;
    this.#wider = undefined;
  }

  #read(from: number, to: number): TokenSpan {
    // Whole words only, but a word that the match or its cell cuts is read as far as the cut.
    const sharpFrom = from === this.end || from === this.low;
    const sharpTo = to === this.start || to === this.high;
    const span = this.row?.within(from, to, sharpFrom, sharpTo);
    this.#keepUp();
    return span ?? this.#readAlone(from, to, sharpFrom, sharpTo);
  }

  #readAlone(from: number, to: number, sharpFrom: boolean, sharpTo: boolean): TokenSpan {
    let [low, high] = [from, to];
    if (!sharpFrom) while (low < to && isWithinWord(this.text, low)) low++;
    if (!sharpTo) while (high < this.high && isWithinWord(this.text, high)) high++;
    return listed(low < high ? tokenize(this.text, low, high) : []);
  }

  /** Where brackets open right behind the match; -1 where none do. */
  get bracket(): number {
    const { text, end, high } = this;
    const at = text.charCodeAt(end) === 32 ? end + 1 : end;
    const unit = at < high ? text.charCodeAt(at) : 0;
    return unit === 40 || unit === 91 ? at : -1;
  }

  /** The words of the heading, name by name. */
  get heading(): readonly TokenSpan[] {
    return (this.#heading ??= headingTokens(this.segment?.heading ?? '').map(listed));
  }

  /** Whether a digit stands within so many units on either side. */
  hasDigit(within: number): boolean {
    const from = Math.max(this.low, this.start - within);
    const to = Math.min(this.high, this.end + within);
    return hasDigitIn(this.text, from, this.start) || hasDigitIn(this.text, this.end, to);
  }

  /** The bounds of a line, record, sentence or cell. */
  bounds(where: 'line' | 'sentence' | 'cell'): readonly [number, number] {
    const { text, start, end } = this;
    if (where === 'cell' || (where === 'sentence' && this.segment?.place.cell !== undefined))
      return [Math.max(this.low, start - FARTHEST_CONTEXT), Math.min(this.high, end + FARTHEST_CONTEXT)];
    if (where === 'line' && this.record)
      return [Math.max(this.record[0], start - LINE), Math.min(this.record[1], end + LINE)];
    if (where === 'line') {
      const low = Math.max(0, start - LINE);
      const high = Math.min(text.length, end + LINE);
      let [from, to] = [start, end];
      while (from > low && text.charCodeAt(from - 1) !== 10) from--;
      while (to < high && text.charCodeAt(to) !== 10) to++;
      return [from, to];
    }
    const low = Math.max(this.low, start - SENTENCE);
    let from = start;
    while (from > low && !endsSentence(text, from - 1)) from--;
    const high = Math.min(this.high, end + SENTENCE);
    let to = end;
    while (to < high && !endsSentence(text, to)) to++;
    return [from, to];
  }

  /** The words before and after it in its line, record, sentence or cell. */
  sides(where: 'line' | 'sentence' | 'cell'): Sides {
    this.#keepUp();
    let known = this.#wider?.get(where);
    if (!known) {
      const [from, to] = this.bounds(where);
      let before = this.#read(from, this.start);
      const part = this.#part;
      const after = this.#read(this.end, to);
      // Too far apart for one part of the row.
      if (part !== this.#part) before = this.#readAlone(from, this.start, from === this.low, true);
      known = { before, after };
      (this.#wider ??= new Map<string, Sides>()).set(where, known);
    }
    return known;
  }
}

/** What stands on both sides of a match. */
export interface Sides {
  readonly before: TokenSpan;
  readonly after: TokenSpan;
}

/** Whether a sentence ends with the sign at `i`. */
function endsSentence(text: string, i: number): boolean {
  const c = text.charCodeAt(i);
  if (c === 10) {
    // An empty line, or an item of a list.
    return /^[ \t\r]*(?:\n|[-*•] |\d+[.)] )/.test(text.slice(i + 1, i + 12));
  }
  if (c !== 46 && c !== 33 && c !== 63) return false;
  if (!/^["”»)]?(?:\s+[\p{Lu}\p{N}"“»(]|\s*$)/u.test(text.slice(i + 1, i + 6))) return false;
  // A full stop after a short word or a number is no end: “Mr.”, “nr.”, “12. marts”.
  return (
    c !== 46 || !/(?:^|[^\p{L}\p{N}])(?:\p{L}{1,3}|\p{N}{1,4})$/u.test(text.slice(Math.max(0, i - 5), i))
  );
}

/** Whether one word stands on both sides of `at`. */
function isWithinWord(text: string, at: number): boolean {
  if (at <= 0 || at >= text.length) return false;
  const kind = kindOf(text.charCodeAt(at));
  return kind !== NEITHER && kind === kindOf(text.charCodeAt(at - 1));
}

function hasDigitIn(text: string, from: number, to: number): boolean {
  for (let i = from; i < to; i++) {
    const unit = text.charCodeAt(i);
    if (unit >= 48 && unit <= 57) return true;
  }
  return false;
}

const listed = (tokens: readonly Token[]): TokenSpan => ({
  tokens: new TokenList(tokens),
  low: 0,
  high: tokens.length,
});
const NO_TOKENS = listed([]);
