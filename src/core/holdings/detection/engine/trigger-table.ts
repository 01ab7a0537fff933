import type { AnchorFunction, CellReader } from '../detector/anchor-function.ts';
import { anchorFunction } from '../detector/anchor-functions.ts';
import type { PatternDetector } from '../detector/detector.ts';
import { writtenField } from '../detector/filled-field.ts';
import { headingNames, isHeadedBy, type Headings } from '../words/heading.ts';
import { CAPITALS, ScanKernel, SIGN, WORD } from './scan-kernel.ts';
import { branchesOf, needsOf, SHAPE_MARGIN, type Need, type PatternNeeds } from '../pattern/pattern-needs.ts';
import { PhraseSet } from '../words/phrase-set.ts';
import { plainSpellings } from '../../../text/plain-spelling.ts';
import { askingOf, prepare, type Prepared } from './prepared-detector.ts';
import { ShapeMemory } from './shape-memory.ts';
import { Lexicon } from '../words/lexicon.ts';
import { MOST_BETWEEN, WordIndex, type WordEntry } from './word-index.ts';

const WIDEST_GAP = 6;
const LONGEST_CLUSTER = 72;

/** A regular expression with where to look for it. */
export interface Seeker extends PatternNeeds {
  readonly ready: Prepared;
  readonly regex: RegExp;
  /** The same, tried at one place only. */
  readonly sticky: RegExp;
}

/** A pattern that needs digits. */
interface DigitSeeker {
  readonly seeker: number;
  readonly need: Extract<Need, { by: 'digits' }>;
  /** A match reaches only a little beyond its digits on either side, and they stand together. */
  readonly narrow: boolean;
  /** Units beyond a cluster that a match may reach. */
  readonly reach: number;
  /** The digits of a match are all in one cluster. */
  together: boolean;
}

interface AnchorAt {
  readonly ready: Prepared;
  readonly fn: AnchorFunction;
}

interface CellAnchor {
  readonly ready: Prepared;
  readonly fn: CellReader;
}

export type Trigger =
  | { readonly what: 'seek'; readonly seeker: number }
  | {
      readonly what: 'phrase';
      readonly ready: Prepared;
      /** The words before the one that was looked for, up to it, and the most units they take. */
      readonly before: { readonly regex: RegExp; readonly most: number } | undefined;
      readonly rest: RegExp | undefined;
      readonly stem: boolean;
    }
  | { readonly what: 'function'; readonly ready: Prepared; readonly fn: AnchorFunction };

/** The places in a text at which detectors may have something, found in one pass. */
export class TriggerTable {
  readonly detectors: readonly PatternDetector[];
  /** Of the words that speak for or against. */
  readonly lexicon = new Lexicon();
  readonly #ready: readonly Prepared[];
  readonly #seekers: Seeker[] = [];
  readonly #words = new WordIndex<Trigger>();
  readonly #digits: DigitSeeker[] = [];
  readonly #capitals: number[] = [];
  readonly #literals: number[] = [];
  readonly #always: number[] = [];
  readonly #signs: number[][] = Array.from({ length: 256 }, () => []);
  readonly #signFunctions: AnchorAt[][] = Array.from({ length: 256 }, () => []);
  readonly #between = new Uint8Array(256);
  /** The patterns that may fit a shape. */
  readonly #shapes = new ShapeMemory<readonly DigitSeeker[]>();
  readonly #headings: (CellAnchor & Headings)[] = [];
  readonly #headingReaders = new Map<string, readonly CellAnchor[]>();
  readonly #hasRounds: boolean;
  #gap = 1;
  #kernel: ScanKernel | undefined;

  /** Throws a SyntaxError or RangeError that says which detector cannot be made ready, and why. */
  constructor(detectors: readonly PatternDetector[]) {
    this.detectors = detectors;
    const asking = askingOf(detectors);
    const byId = new Map(detectors.map((d) => [d.id, d]));
    this.#ready = detectors.map((of, index) => {
      try {
        return prepare(of, index, asking, byId, this.lexicon);
      } catch (error) {
        throw new RangeError(`${of.name}: ${(error as Error).message}`);
      }
    });
    for (const ready of this.#ready) this.#addAnchor(ready);
    this.#hasRounds = this.#ready.some((r) => r.round === 1);
    for (const { need, narrow } of this.#digits) {
      if (!narrow) continue;
      for (const b of need.between) this.#between[b] = 1;
      this.#gap = Math.max(this.#gap, need.gap);
    }
    for (const d of this.#digits)
      d.together = d.need.gap <= this.#gap && [...d.need.between].every((b) => this.#between[b] === 1);
  }

  #addAnchor(ready: Prepared): void {
    const { anchor, name } = ready.of;
    if (anchor.by !== 'function' && anchor.field)
      this.#addHeadings(
        ready,
        writtenField(anchor.field.pattern, anchor.by === 'words' || anchor.ignoreCase),
        anchor.field.headings,
        true,
      );
    if (anchor.by === 'pattern') {
      this.#addSeeker(ready, anchor.pattern, anchor.ignoreCase, name);
    } else if (anchor.by === 'words') {
      for (const entry of anchor.words)
        for (const way of [entry, ...plainSpellings(entry)]) this.#addPhrase(ready, way);
      // Of what overlaps, words have the longest: each branch may be sought by what it has of its own.
      if (anchor.pattern !== undefined)
        for (const branch of branchesOf(anchor.pattern)) this.#addSeeker(ready, branch, true, name);
    } else {
      const fn = anchorFunction(anchor.name);
      const add = (text: string, capital: boolean) =>
        // What follows a sign may be anything.
        this.#words.add({ text, whole: /\p{L}$/u.test(text), capital, of: { what: 'function', ready, fn } });
      for (const text of fn.words) add(text, true);
      for (const text of fn.plainWords) add(text, false);
      for (const sign of fn.signs)
        (this.#signFunctions[sign.charCodeAt(0)] as AnchorAt[]).push({ ready, fn });
      if (anchor.headings.length > 0) this.#addHeadings(ready, fn, anchor.headings, false);
    }
  }

  #addHeadings(ready: Prepared, fn: CellReader, headings: readonly string[], isWhole: boolean): void {
    this.#headings.push({ ready, fn, phrases: new PhraseSet(headings), isWhole });
  }

  #addPhrase(ready: Prepared, entry: string): void {
    const stem = entry.endsWith('*');
    const words = entry
      .replace(/\*$/, '')
      .trim()
      .toLowerCase()
      .split(/[\s-]+/);
    const capital = /^\p{Lu}/u.test(entry);
    // Of several words the rarest is looked for; where the first has a capital, that one.
    let at = capital ? 0 : rarestOf(words);
    let text = words[at] as string;
    // A short word is looked for together with the next.
    while (text.length < 3 && at + 1 < words.length) text += ` ${words[++at]}`;
    const before = words.slice(0, at - (text.split(' ').length - 1));
    const after = words.slice(at + 1);
    const end = stem ? '' : '(?![\\p{L}\\p{N}])';
    this.#words.add({
      text,
      whole: after.length > 0 || !stem,
      capital,
      next: after[0] ?? '',
      of: {
        what: 'phrase',
        ready,
        stem,
        before:
          before.length === 0
            ? undefined
            : {
                regex: new RegExp(before.map((w) => escaped(w) + BETWEEN).join('') + '$', 'iu'),
                most: mostOf(before),
              },
        rest:
          after.length === 0
            ? undefined
            : new RegExp(after.map((w) => BETWEEN + escaped(w)).join('') + end, 'iuy'),
      },
    });
  }

  #addSeeker(ready: Prepared, pattern: string, ignoreCase: boolean, name: string): void {
    let needs;
    let regex;
    let sticky;
    try {
      regex = new RegExp(pattern, ignoreCase ? 'giu' : 'gu');
      sticky = new RegExp(pattern, ignoreCase ? 'iuy' : 'uy');
      needs = needsOf(pattern, ignoreCase);
    } catch (error) {
      throw new SyntaxError(`${name}: ${(error as Error).message}`);
    }
    const { need } = needs;
    const branches = need.by === 'all' ? branchesOf(pattern) : [];
    if (branches.length > 1) {
      // What the branches have in common is too common; each has something of its own.
      for (const branch of branches) this.#addSeeker(ready, branch, ignoreCase, name);
      return;
    }
    const at = this.#seekers.push({ ready, regex, sticky, ...needs }) - 1;
    switch (need.by) {
      case 'word':
        for (const text of need.prefixes)
          this.#words.add({
            text,
            whole: false,
            capital: isCapital(need.within),
            of: { what: 'seek', seeker: at },
          });
        break;
      case 'digits': {
        const narrow = need.lead <= SHAPE_MARGIN && need.trail <= SHAPE_MARGIN && need.gap <= WIDEST_GAP;
        const reach = narrow ? need.trail : needs.longest;
        this.#digits.push({ seeker: at, need, narrow, reach, together: false });
        break;
      }
      case 'sign':
        (this.#signs[need.byte] as number[]).push(at);
        break;
      case 'capitals':
        this.#capitals.push(at);
        break;
      case 'literal':
        this.#literals.push(at);
        break;
      case 'all':
        this.#always.push(at);
        break;
    }
  }

  /** The names of detectors whose patterns have nothing rare in them, so that every text is read with them whole. */
  get readsAll(): readonly string[] {
    return this.#always.map((s) => (this.#seekers[s] as Seeker).ready.of.id);
  }

  get ready(): readonly Prepared[] {
    return this.#ready;
  }

  get seekers(): readonly Seeker[] {
    return this.#seekers;
  }

  /** Detectors that look at whole cells under such a heading. */
  readersOf(heading: string): readonly CellAnchor[] {
    let known = this.#headingReaders.get(heading);
    if (!known) {
      const names = headingNames(heading);
      known = this.#headings.filter((h) => names.some((name) => isHeadedBy(name, h)));
      if (this.#headingReaders.size < 10_000) this.#headingReaders.set(heading, known);
    }
    return known;
  }

  /** Whether some detectors ask for others that wait. */
  get hasRounds(): boolean {
    return this.#hasRounds;
  }

  get readsHeadings(): boolean {
    return this.#headings.length > 0;
  }

  /** The one pass. `units` goes on beyond `to` by eight bytes at least. */
  scan(text: string, units: Uint8Array, from: number, to: number, hasCells: boolean, out: Finder): void {
    for (const s of this.#always) out.window(s, from, to, to);
    this.#seekLiterals(text, from, to, out);
    this.#kernel ??= new ScanKernel(
      this.#words.tables(),
      this.#signs.flatMap((seekers, b) =>
        seekers.length + (this.#signFunctions[b] as AnchorAt[]).length > 0 ? [b] : [],
      ),
    );
    let clusterEnd = 0;
    this.#kernel.run(units, from, to, (i, kind) => {
      if (kind === WORD) this.#wordAt(text, units, i, out);
      else if (kind === SIGN) this.#signAt(units, i, out);
      else if (kind === CAPITALS) this.#capitalsAt(units, i, out);
      else if (i >= clusterEnd) clusterEnd = this.#digitsAt(units, i, text.length, hasCells, out);
    });
  }

  #capitalsAt(units: Uint8Array, i: number, out: Finder): void {
    let end = i;
    while ((units[end] as number) >= 65 && (units[end] as number) <= 90) end++;
    for (const s of this.#capitals) {
      const { need, longest } = this.#seekers[s] as Seeker;
      if (need.by === 'capitals' && end - i >= need.least) out.window(s, i, i + longest, i);
    }
  }

  #signAt(units: Uint8Array, i: number, out: Finder): void {
    for (const { ready, fn } of this.#signFunctions[units[i] as number] as AnchorAt[]) out.sign(ready, fn, i);
    for (const s of this.#signs[units[i] as number] as number[]) {
      const { need, longest } = this.#seekers[s] as Seeker;
      if (need.by !== 'sign' || need.after[units[i + 1] as number] !== 1) continue;
      if (i > 0 && need.before[units[i - 1] as number] !== 1) continue;
      out.window(s, beginOf(need, units, i), i + longest, i);
    }
  }

  #wordAt(text: string, units: Uint8Array, i: number, out: Finder): void {
    for (const entry of this.#words.at(text, units, i)) {
      const t = entry.of;
      if (t.what === 'seek') {
        const { need, longest } = this.#seekers[t.seeker] as Seeker;
        if (need.by !== 'word') continue;
        if (need.within && !standsWithin(need.within, text, units, i)) continue;
        out.window(t.seeker, i - need.lead, i + longest + need.reach, i + need.reach);
      } else out.word(t, entry, i);
    }
  }

  /** Handles the cluster of digits that begins at `i`; where it ends. */
  #digitsAt(units: Uint8Array, i: number, length: number, hasCells: boolean, out: Finder): number {
    const between = this.#between;
    let last = i;
    let count = 1;
    for (let j = i + 1; j < length; j++) {
      const b = units[j] as number;
      if (b >= 48 && b <= 57) {
        count++;
        last = j;
      } else if (between[b] === 0 || j - last > this.#gap) break;
    }
    const end = last + 1;
    out.digits(i, end);
    for (const { seeker, need, reach } of this.#fitting(units, i, end, length, count, hasCells))
      out.window(seeker, beginOf(need, units, i), end + reach, last);
    return end;
  }

  /** Patterns that may match with their first digit in the cluster. */
  #fitting(
    units: Uint8Array,
    from: number,
    end: number,
    length: number,
    count: number,
    hasCells: boolean,
  ): readonly DigitSeeker[] {
    if (end - from > LONGEST_CLUSTER) return this.#digits;
    return this.#shapes.of(
      units,
      Math.max(0, from - SHAPE_MARGIN),
      Math.min(length, end + SHAPE_MARGIN),
      { from, to: end },
      // Another cluster nearby may have the same shape around it, and other digits.
      2 * count + (hasCells ? 1 : 0),
      (shape) =>
        this.#digits.filter(
          ({ need, together }) =>
            (!together || need.least <= count) &&
            (hasCells ? need.mayFit.inCells(shape) : need.mayFit.inText(shape)),
        ),
    );
  }

  #seekLiterals(text: string, from: number, to: number, out: Finder): void {
    let lower: string | undefined;
    for (const s of this.#literals) {
      const { need, longest } = this.#seekers[s] as Seeker;
      if (need.by !== 'literal') continue;
      const hay = need.ignoreCase ? (lower ??= text.toLowerCase()) : text;
      for (let at = hay.indexOf(need.text, from); at >= 0 && at < to; at = hay.indexOf(need.text, at + 1))
        out.window(s, at - need.lead, at + longest, at);
    }
  }
}

/** Where a match may begin at the earliest that has its sign or first digit at `i`. */
function beginOf(
  need: { readonly lead: number; readonly run: Uint8Array },
  units: Uint8Array,
  i: number,
): number {
  let from = i;
  while (from > 0 && i - from < need.lead && need.run[units[from - 1] as number] === 1) from--;
  return from;
}

const BETWEEN = `[\\s\\-]{1,${MOST_BETWEEN}}`;
const escaped = (word: string) => word.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&');
/** Units that such words take at most, with what parts them. */
const mostOf = (words: readonly string[]) => words.reduce((sum, w) => sum + w.length + MOST_BETWEEN, 0);

/** Words of phrases that are frequent in writing, long as they are. */
const FREQUENT = new Set(
  (
    'about after against because before between blood change children condition country could data department disease family ' +
    'first found further general group health history house important information large life line living long medical member ' +
    'members money never number other patient people person place problem problems record records same school self sentence service side ' +
    'small social state still story street system their there think thought through treatment under under voted water where which ' +
    'while white without woman women words world would years younger efter eller hele hver ikke mellem noget sammen siden under ' +
    'uden vores deres efter från eller genom mellan mycket något också skulle under sedan vilken varför aber auch durch einer ' +
    'eines nicht nach oder ohne seine seiner sich über unter wegen werden wurde zwischen medlem mitglied mitglieder for fået'
  ).split(' '),
);

/** The index of the word of a phrase that is likely the rarest: the longest that is not frequent, of as long ones the first. */
function rarestOf(words: readonly string[]): number {
  const worth = (w: string) => (FREQUENT.has(w) ? w.length / 100 : w.length);
  let at = 0;
  for (const [i, w] of words.entries()) if (worth(w) > worth(words[at] as string)) at = i;
  return at;
}

interface Within {
  readonly text: string;
  readonly at: number;
}

const isCapital = (within: Within | undefined) =>
  within !== undefined && /[A-Z]/.test(within.text[within.at] as string);

/** Whether the word at `i` stands in its literal; the sign before it, which is ASCII, is asked first. */
const standsWithin = (within: Within, text: string, units: Uint8Array, i: number) =>
  units[i - 1] === within.text.charCodeAt(within.at - 1) && text.startsWith(within.text, i - within.at);

/** What the pass reports. */
export interface Finder {
  /** A match may begin in [from, last], and ends before `to`. */
  window(seeker: number, from: number, to: number, last: number): void;
  word(trigger: Exclude<Trigger, { what: 'seek' }>, entry: WordEntry<Trigger>, at: number): void;
  sign(ready: Prepared, fn: AnchorFunction, at: number): void;
  /** All digits of ASCII in [from, to) are told so, in rising order. */
  digits(from: number, to: number): void;
}
