import type { Context } from '../detector/detector.ts';
import type { Step } from '../detector/confidence.ts';
import { needsOf } from '../pattern/pattern-needs.ts';
import { PhraseSet } from '../words/phrase-set.ts';
import type { Tokens } from '../words/token.ts';
import { TokenRow, type TokenSpan } from '../words/token-row.ts';
import type { Beginnings } from '../words/beginnings.ts';
import type { Lexicon } from '../words/lexicon.ts';
import type { Sides, Surroundings } from './surroundings.ts';

export interface CompiledContext {
  readonly of: Context;
  /** The pattern matches nothing without a digit. */
  readonly needsDigit: boolean;
  readonly phrases: PhraseSet | undefined;
  readonly pattern: RegExp | undefined;
  /** By a unit of ASCII: 1 where a match of the pattern may begin with it. */
  readonly starts: Uint8Array;
}

/** In a lexicon, where texts are read by a row of tokens of the same. */
export function compileContext(of: Context, lexicon?: Lexicon): CompiledContext {
  const phrases = of.words && (lexicon?.setOf(of.words) ?? new PhraseSet(of.words));
  const { pattern } = of;
  if (pattern === undefined) return { of, phrases, ...NO_PATTERN };
  const make = () => compilePattern(pattern);
  return { of, phrases, ...(lexicon?.patternOf(pattern, make) ?? make()) };
}

const NO_PATTERN = { needsDigit: false, pattern: undefined, starts: new Uint8Array(256) };

function compilePattern(pattern: string): Pick<CompiledContext, 'needsDigit' | 'pattern' | 'starts'> {
  const { need, start } = needsOf(pattern, true);
  return { needsDigit: need.by === 'digits', starts: start.inside, pattern: new RegExp(pattern, 'giu') };
}

interface Found {
  readonly words: string;
  /** Units between it and the match; 0 in a heading. */
  readonly distance: number;
}

/** Whether a context is met only where a digit stands within its reach. */
export const asksForDigit = (c: CompiledContext): boolean =>
  c.needsDigit && c.of.where === 'around' && !c.phrases;

/** Whether it names what the match is: of all labels, the nearest counts. */
const isLabel = (where: Context['where']) =>
  where === 'before' || where === 'heading' || where === 'brackets';

/** Whether it looks no farther than so many units. */
export const isNear = (where: Context['where']): boolean =>
  where === 'before' || where === 'after' || where === 'around' || where === 'brackets';

/** The most that such contexts can add, whatever stands around. */
export function mostOf(contexts: readonly Context[]): number {
  let nearest = 0;
  let most = 0;
  for (const c of contexts)
    if (isLabel(c.where)) nearest = Math.max(nearest, c.steps);
    else most += Math.max(0, c.steps);
  return nearest + most;
}

/** The most that contexts can add here, by the quickest look: one that may be met is taken as met. */
export function mostAround(contexts: readonly CompiledContext[], around: Surroundings): number {
  let nearest = 0;
  let most = 0;
  for (const c of contexts) {
    const { steps } = c.of;
    if (steps <= 0 || !mayBeMet(c, around)) continue;
    if (isLabel(c.of.where)) nearest = Math.max(nearest, steps);
    else most += steps;
  }
  return nearest + most;
}

/** The most that contexts can add to any match in [from, to), a text of ASCII without cells, by what the row has read around it. */
export function mostNear(
  contexts: readonly CompiledContext[],
  row: TokenRow,
  text: string,
  from: number,
  to: number,
): number {
  let nearest = 0;
  let most = 0;
  for (const c of contexts) {
    const { steps, where, within } = c.of;
    if (steps <= 0 || where === 'heading') continue;
    const isMet =
      !isNear(where) ||
      (c.phrases && row.hasBegun(c.phrases.number)) ||
      (c.pattern && mayStart(c, text, from - within, to + within));
    if (!isMet) continue;
    if (isLabel(where)) nearest = Math.max(nearest, steps);
    else most += steps;
  }
  return nearest + most;
}

function mayBeMet(c: CompiledContext, around: Surroundings): boolean {
  const { where, within } = c.of;
  const { text, start, end, low, high } = around;
  const isBefore = () =>
    (c.phrases !== undefined && mayBegin(c.phrases, around.before(within))) ||
    (c.pattern !== undefined && mayStart(c, text, Math.max(low, start - within), start));
  const isAfter = () =>
    (c.phrases !== undefined && mayBegin(c.phrases, around.after(within))) ||
    (c.pattern !== undefined && mayStart(c, text, end, Math.min(high, end + within)));
  switch (where) {
    case 'heading':
      return around.segment?.heading !== undefined;
    case 'before':
      return isBefore();
    case 'after':
      return isAfter();
    case 'brackets':
      return around.bracket >= 0 && isAfter();
    case 'around':
      return asksForDigit(c) ? around.hasDigit(within) : isBefore() || isAfter();
    default:
      return true;
  }
}

/** Whether a match of the pattern may begin in [from, to). */
function mayStart({ starts }: CompiledContext, text: string, from: number, to: number): boolean {
  for (let i = Math.max(0, from); i < to && i < text.length; i++) {
    const unit = text.charCodeAt(i);
    if (unit > 127 || starts[unit] === 1) return true;
  }
  return false;
}

/**
 * What the surroundings add. Of the labels (before, after, heading), only the nearest of each place counts, so that
 * “Order 4711, CPR” is read as CPR; the line, the sentence and the cell count once for each context.
 */
export function weighContext(contexts: readonly CompiledContext[], around: Surroundings): readonly Step[] {
  const steps: Step[] = [];
  let nearest: { readonly step: Step; readonly found: Found } | undefined;
  const label = (found: Found, context: Context, side: string) => {
    const step = { words: `${found.words} ${side}`, steps: context.steps };
    if (!nearest || isNearer(found, nearest.found, Math.abs(step.steps) - Math.abs(nearest.step.steps)))
      nearest = { step, found };
  };
  for (const c of contexts) {
    const { where, within, steps: worth } = c.of;
    switch (where) {
      case 'before': {
        const found = lastBefore(c, around, within);
        if (found)
          label(found, c.of, found.distance === 0 ? 'right before it' : `${chars(found.distance)} before`);
        break;
      }
      case 'after': {
        const found = firstAfter(c, around, within);
        if (found) steps.push({ words: `${found.words} ${chars(found.distance)} after`, steps: worth });
        break;
      }
      case 'brackets': {
        if (around.bracket < 0) break;
        const found = firstAfter(c, around, within);
        if (found && isWithinBrackets(around, found))
          label({ words: found.words, distance: 0.25 }, c.of, 'in brackets after it');
        break;
      }
      case 'around': {
        const before = lastBefore(c, around, within);
        const after = firstAfter(c, around, within);
        const found = before && (!after || before.distance <= after.distance) ? before : after;
        if (found) steps.push({ words: `${found.words} ${chars(found.distance)} away`, steps: worth });
        break;
      }
      case 'heading': {
        if (around.segment?.heading === undefined) break;
        const found = inHeading(c, around);
        if (found) label(found, c.of, 'in the heading');
        break;
      }
      case 'line':
      case 'sentence':
      case 'cell': {
        const [from, to] = c.pattern ? around.bounds(where) : [0, 0];
        const found =
          inSides(c, around.sides(where)) ??
          inText(
            c,
            c.pattern && `${around.text.slice(from, around.start)}\n${around.text.slice(around.end, to)}`,
          );
        if (found) steps.push({ words: `${found} in the same ${where}`, steps: worth });
        break;
      }
    }
  }
  return nearest ? [nearest.step, ...steps] : steps;
}

/** Of labels that are as near, one that holds the other counts, “personal code” and not “code”; else what weighs more. */
function isNearer(a: Found, b: Found, heavier: number): boolean {
  if (a.distance !== b.distance) return a.distance < b.distance;
  if (holds(a, b)) return true;
  return heavier > 0 && !holds(b, a);
}

const holds = ({ words }: Found, { words: part }: Found): boolean =>
  words.length > part.length && words.includes(part.slice(1, -1));

/** Whether the brackets behind the match have not closed before what was found. */
const isWithinBrackets = ({ text, end, bracket }: Surroundings, { distance }: Found) =>
  end + distance > bracket && !/[)\]]/.test(text.slice(bracket, end + distance));

const chars = (n: number) => (n === 1 ? '1 character' : `${n} characters`);
const quoted = (words: string) => `“${words}”`;

/** Whether a phrase of the set may begin in the span, by the quickest look. */
const mayBegin = (phrases: PhraseSet, { tokens }: TokenSpan): boolean =>
  !(tokens instanceof TokenRow) || tokens.hasBegun(phrases.number);

function lastBefore(c: CompiledContext, around: Surroundings, within: number): Found | undefined {
  const { text, start } = around;
  let found: Found | undefined;
  const span = c.phrases && around.before(within);
  if (c.phrases && span && mayBegin(c.phrases, span)) {
    const { tokens, low, high } = span;
    for (let i = high - 1; i >= low; i--) {
      if (start - tokens.end(i) > within) break;
      const n = c.phrases.matchAt(tokens, i, high);
      if (n > 0) {
        const end = tokens.end(i + n - 1);
        // A longer phrase may begin further left and end here.
        const longer = i > low && c.phrases.matchAt(tokens, i - 1, high) > n ? i - 1 : i;
        found = { words: quoted(text.slice(tokens.start(longer), end)), distance: start - end };
        break;
      }
    }
  }
  const from = Math.max(around.low, start - within);
  if (!found && c.pattern && mayStart(c, text, from, start)) {
    const before = text.slice(from, start);
    const { pattern } = c;
    let last: RegExpExecArray | undefined;
    pattern.lastIndex = 0;
    for (let m = pattern.exec(before); m; m = pattern.exec(before)) {
      last = m;
      if (m[0] === '') pattern.lastIndex++;
    }
    if (last?.[0]) found = { words: quoted(last[0]), distance: start - (from + last.index + last[0].length) };
  }
  return found;
}

function firstAfter(c: CompiledContext, around: Surroundings, within: number): Found | undefined {
  const { text, end } = around;
  const span = c.phrases && around.after(within);
  if (c.phrases && span && mayBegin(c.phrases, span)) {
    const { tokens, low, high } = span;
    for (let i = low; i < high; i++) {
      if (tokens.start(i) - end > within) break;
      const n = c.phrases.matchAt(tokens, i, high);
      if (n > 0)
        return {
          words: quoted(text.slice(tokens.start(i), tokens.end(i + n - 1))),
          distance: tokens.start(i) - end,
        };
    }
  }
  const to = Math.min(around.high, end + within);
  if (!c.pattern || !mayStart(c, text, end, to)) return undefined;
  const m = firstMatch(c.pattern, text.slice(end, to));
  return m?.[0] ? { words: quoted(m[0]), distance: m.index } : undefined;
}

function firstMatch(pattern: RegExp, text: string): RegExpExecArray | null {
  pattern.lastIndex = 0;
  return pattern.exec(text);
}

function inSides(c: CompiledContext, { before, after }: Sides): string | undefined {
  const { phrases } = c;
  if (!phrases) return undefined;
  // A phrase may have the match in its middle: what follows the last word before it is not what the row has there.
  const last = before.high - 1;
  const overMatch = last >= before.low && before.tokens.beginnings(last)?.of[phrases.number] === 1;
  if (!overMatch && !mayBegin(phrases, before) && !mayBegin(phrases, after)) return undefined;
  const high = before.high - before.low + after.high - after.low;
  return inTokens(c, { tokens: new Joined(before, after), low: 0, high });
}

/** The tokens of one span, and then those of another. */
class Joined implements Tokens {
  readonly #first: number;

  constructor(
    readonly before: TokenSpan,
    readonly after: TokenSpan,
  ) {
    this.#first = before.high - before.low;
  }

  start(i: number): number {
    const { before, after } = this;
    return i < this.#first ? before.tokens.start(before.low + i) : after.tokens.start(this.#behind(i));
  }

  end(i: number): number {
    const { before, after } = this;
    return i < this.#first ? before.tokens.end(before.low + i) : after.tokens.end(this.#behind(i));
  }

  word(i: number): string {
    const { before, after } = this;
    return i < this.#first ? before.tokens.word(before.low + i) : after.tokens.word(this.#behind(i));
  }

  beginnings(i: number): Beginnings | null | undefined {
    const { before, after } = this;
    return i < this.#first
      ? before.tokens.beginnings(before.low + i)
      : after.tokens.beginnings(this.#behind(i));
  }

  #behind(i: number): number {
    return this.after.low + i - this.#first;
  }
}

/**
 * A heading is as near as can be, but what stands in the cell itself is nearer. In a name of several words the last
 * says what it is: a “department manager” is a manager.
 */
function inHeading(c: CompiledContext, around: Surroundings): Found | undefined {
  const near = 0.5 + around.start - around.low;
  let found: Found | undefined;
  if (c.phrases)
    for (const { tokens, low, high } of around.heading)
      for (let i = low; i < high; i++) {
        const n = c.phrases.matchAt(tokens, i, high);
        if (n === 0) continue;
        const distance = near + (high - i - n) / 64;
        if (!found || distance < found.distance) found = { words: phraseAt(tokens, i, n), distance };
      }
  const written = found ? undefined : inText(c, around.segment?.heading);
  return written === undefined ? found : { words: written, distance: near };
}

function inTokens(c: CompiledContext, { tokens, low, high }: TokenSpan): string | undefined {
  if (!c.phrases) return undefined;
  for (let i = low; i < high; i++) {
    const n = c.phrases.matchAt(tokens, i, high);
    if (n > 0) return phraseAt(tokens, i, n);
  }
  return undefined;
}

const phraseAt = (tokens: Tokens, i: number, n: number): string =>
  quoted(Array.from({ length: n }, (_, k) => tokens.word(i + k)).join(' '));

function inText(c: CompiledContext, text: string | undefined): string | undefined {
  if (!c.pattern || text === undefined) return undefined;
  const m = firstMatch(c.pattern, text);
  return m?.[0] ? quoted(m[0]) : undefined;
}
