import { anchorFunction, type AnchorFunction } from './anchor-function.ts';
import { compileCheck, stepOf, type CompiledCheck } from './check.ts';
import { foldUnits, shapeKey } from './code-shape.ts';
import { confidence, stepsOf, sumOf, type Step } from './confidence.ts';
import {
  compileContext,
  asksForDigit,
  mostAround,
  mostOf,
  FARTHEST_CONTEXT,
  Surroundings,
  weighContext,
  type CompiledContext,
} from './context.ts';
import type { Check, PatternDetector } from './detector.ts';
import { PhraseSet } from './phrase-set.ts';
import { headingTokens } from './token.ts';
import { TokenRow } from './token-row.ts';
import { segmentAt, type Segment, type TextDocument } from './segment.ts';
import type { DetectionResult, Finding, NearMiss, Stopped, Verdict } from './finding.ts';
import { comparable, mask } from './mask.ts';
import { branchesOf, needsOf, SHAPE_MARGIN, type Need } from './pattern-needs.ts';
import { LONGEST } from './pattern-syntax.ts';
import { CAPITALS, ScanKernel, SIGN, WORD } from './kernel/scan-kernel.ts';
import { kindOf, NEITHER } from './unit-kind.ts';
import { Vocabulary } from './vocabulary.ts';
import { WordIndex, type WordEntry } from './word-index.ts';

/** Units of text on either side of a stretch that a search of it may have to see. */
export const MARGIN = LONGEST + FARTHEST_CONTEXT + 64;
const MOST_NEAR_MISSES = 2000;
const WIDEST_GAP = 6;
const LONGEST_CLUSTER = 72;
/** How far apart two findings of one line or sentence may be. */
const COMPANY = 300;
const MOST_SHAPES = 50_000;
const MOST_SURROUNDINGS = 16;

/** A detector made ready to run. */
interface Ready {
  readonly of: PatternDetector;
  readonly index: number;
  readonly checks: readonly CompiledCheck[];
  /** Steps that a match needs beside those of its anchor. */
  readonly lacking: number;
  /** All the steps of a match that counts. */
  readonly needed: number;
  readonly hasDear: boolean;
  /** What dear checks and other detectors may add at most. */
  readonly dearSteps: number;
  /** What its checks may add at most. */
  readonly checkSteps: number;
  /** What its surroundings may add at most; and where no digit is within `digitReach`. */
  readonly contextSteps: number;
  readonly digitlessSteps: number;
  readonly digitReach: number;
  readonly context: readonly CompiledContext[];
  /** Contexts that ask for another detector, settled when all is read. */
  readonly company: readonly {
    readonly detector: string;
    readonly within: number;
    readonly where: string;
    readonly steps: number;
  }[];
  readonly excluded: ReadonlySet<string>;
  readonly excludePatterns: readonly RegExp[];
  /** Its own surroundings are weighed after others’: a word that needs more than itself, asked for by nobody. */
  readonly waits: boolean;
  /** Starts with this in every sum. */
  readonly base: Step;
}

/** A regular expression with where to look for it. */
interface Seeker {
  readonly ready: Ready;
  readonly regex: RegExp;
  readonly need: Need;
  readonly longest: number;
  readonly margin: number;
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

type Trigger =
  | { readonly what: 'seek'; readonly seeker: number }
  | {
      readonly what: 'phrase';
      readonly ready: Ready;
      readonly rest: RegExp | undefined;
      readonly stem: boolean;
    }
  | { readonly what: 'function'; readonly ready: Ready; readonly fn: AnchorFunction };

export interface DetectOptions {
  /** A keyed hash of a value as it is compared. */
  readonly hash?: (value: string) => string;
  /** Findings carry the clear value. */
  readonly reveal?: boolean;
  /** Tell what nearly matched. */
  readonly nearMisses?: boolean;
  /** Milliseconds that all detectors together may take, by the clock given. */
  readonly budget?: { readonly now: () => number; readonly ms: number };
  /** Told before a pattern runs, so that whoever has to end it knows which it was, and where. */
  readonly watch?: (detector: number, at: number) => void;
  /** Detectors to leave out, by index. */
  readonly without?: ReadonlySet<number>;
}

/**
 * Many detectors as one: a single pass over the text finds the places where something rare enough stands, and only
 * there are patterns run, checks made and surroundings read.
 */
export class Engine {
  readonly detectors: readonly PatternDetector[];
  /** Of the words that speak for or against. */
  readonly vocabulary = new Vocabulary();
  readonly #ready: readonly Ready[];
  readonly #seekers: Seeker[] = [];
  readonly #words = new WordIndex<Trigger>();
  readonly #digits: DigitSeeker[] = [];
  readonly #capitals: number[] = [];
  readonly #literals: number[] = [];
  readonly #always: number[] = [];
  readonly #signs: number[][] = Array.from({ length: 256 }, () => []);
  readonly #between = new Uint8Array(256);
  readonly #shapes = new Map<string, readonly DigitSeeker[]>();
  readonly #headings: { readonly ready: Ready; readonly fn: AnchorFunction; readonly phrases: PhraseSet }[] =
    [];
  readonly #headingReaders = new Map<
    string,
    readonly { readonly ready: Ready; readonly fn: AnchorFunction }[]
  >();
  #gap = 1;
  #kernel: ScanKernel | undefined;

  /** Throws a SyntaxError or RangeError that says which detector cannot be made ready, and why. */
  constructor(detectors: readonly PatternDetector[]) {
    this.detectors = detectors;
    const asked = new Set(detectors.flatMap((d) => d.context.flatMap((c) => c.detector ?? [])));
    this.#ready = detectors.map((of, index) => {
      try {
        return makeReady(of, index, asked, this.vocabulary);
      } catch (error) {
        throw new RangeError(`${of.name}: ${(error as Error).message}`);
      }
    });
    for (const ready of this.#ready) this.#addAnchor(ready);
    for (const { need, narrow } of this.#digits) {
      if (!narrow) continue;
      for (const b of need.between) this.#between[b] = 1;
      this.#gap = Math.max(this.#gap, need.gap);
    }
    for (const d of this.#digits)
      d.together = d.need.gap <= this.#gap && [...d.need.between].every((b) => this.#between[b] === 1);
  }

  #addAnchor(ready: Ready): void {
    const { anchor, name } = ready.of;
    if (anchor.by === 'pattern') {
      this.#addSeeker(ready, anchor.pattern, anchor.ignoreCase, name);
    } else if (anchor.by === 'words') {
      for (const entry of anchor.words) this.#addPhrase(ready, entry);
    } else {
      const fn = anchorFunction(anchor.name);
      for (const word of fn.words)
        this.#words.add({ text: word, whole: true, capital: true, of: { what: 'function', ready, fn } });
      if (anchor.headings.length > 0)
        this.#headings.push({ ready, fn, phrases: new PhraseSet(anchor.headings) });
    }
  }

  #addPhrase(ready: Ready, entry: string): void {
    const stem = entry.endsWith('*');
    let [first = '', ...rest] = entry
      .replace(/\*$/, '')
      .trim()
      .toLowerCase()
      .split(/[\s-]+/);
    // A short word is looked for together with the next.
    while (first.length < 3 && rest.length > 0) [first, rest] = [`${first} ${rest[0]}`, rest.slice(1)];
    const end = stem ? '' : '(?![\\p{L}\\p{N}])';
    const words = rest.map((w) => `[\\s\\-]{1,3}${w.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&')}`).join('');
    this.#words.add({
      text: first,
      whole: rest.length > 0 || !stem,
      capital: /^\p{Lu}/u.test(entry),
      next: rest[0] ?? '',
      of: { what: 'phrase', ready, stem, rest: rest.length > 0 ? new RegExp(words + end, 'iuy') : undefined },
    });
  }

  #addSeeker(ready: Ready, pattern: string, ignoreCase: boolean, name: string): void {
    let needs;
    let regex;
    try {
      regex = new RegExp(pattern, ignoreCase ? 'giu' : 'gu');
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
    const at = this.#seekers.push({ ready, regex, ...needs }) - 1;
    switch (need.by) {
      case 'word':
        for (const text of need.prefixes)
          this.#words.add({ text, whole: false, capital: false, of: { what: 'seek', seeker: at } });
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

  /** Finds everything in a document. `units` are the text's folded units, where the caller has them. */
  detect(source: TextDocument, options: DetectOptions = {}, units?: Uint8Array): DetectionResult {
    const findings: Finding[] = [];
    const session = new Session(this, options, (f) => findings.push(f));
    session.read({
      text: source.text,
      units: units ?? foldUnits(source.text),
      base: 0,
      from: 0,
      to: source.text.length,
      segments: source.segments,
    });
    const rest = session.end();
    return { findings, ...rest };
  }

  // What follows is for Session.

  get ready(): readonly Ready[] {
    return this.#ready;
  }

  get seekers(): readonly Seeker[] {
    return this.#seekers;
  }

  /** Detectors that look at whole cells under such a heading. */
  readersOf(heading: string): readonly { readonly ready: Ready; readonly fn: AnchorFunction }[] {
    let known = this.#headingReaders.get(heading);
    if (!known) {
      const tokens = headingTokens(heading);
      known = this.#headings.filter((h) => tokens.some((_, i) => h.phrases.matchAt(tokens, i) > 0));
      if (this.#headingReaders.size < 10_000) this.#headingReaders.set(heading, known);
    }
    return known;
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
      this.#signs.flatMap((seekers, b) => (seekers.length > 0 ? [b] : [])),
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
    for (const s of this.#signs[units[i] as number] as number[]) {
      const { need, longest } = this.#seekers[s] as Seeker;
      if (need.by !== 'sign' || need.after[units[i + 1] as number] !== 1) continue;
      if (i > 0 && need.before[units[i - 1] as number] !== 1) continue;
      let from = i;
      while (from > 0 && i - from < need.lead && need.run[units[from - 1] as number] === 1) from--;
      out.window(s, from, i + longest, i);
    }
  }

  #wordAt(text: string, units: Uint8Array, i: number, out: Finder): void {
    for (const entry of this.#words.at(text, units, i)) {
      const t = entry.of;
      if (t.what === 'seek') {
        const { need, longest } = this.#seekers[t.seeker] as Seeker;
        if (need.by !== 'word') continue;
        if (need.within && !text.startsWith(need.within.text, i - need.within.at)) continue;
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
      out.window(seeker, i - need.lead, end + reach, end);
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
    const shape = shapeKey(units, Math.max(0, from - SHAPE_MARGIN), Math.min(length, end + SHAPE_MARGIN));
    // Another cluster nearby may have the same shape around it, and other digits.
    const key = `${hasCells ? 'c' : ''}${count} ${shape}`;
    let known = this.#shapes.get(key);
    if (!known) {
      known = this.#digits.filter(
        ({ need, together }) =>
          (!together || need.least <= count) &&
          (hasCells ? need.mayFit.inCells(shape) : need.mayFit.inText(shape)),
      );
      if (this.#shapes.size >= MOST_SHAPES) this.#shapes.clear();
      this.#shapes.set(key, known);
    }
    return known;
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

/** What the pass reports. */
interface Finder {
  /** A match may begin in [from, last], and ends before `to`. */
  window(seeker: number, from: number, to: number, last: number): void;
  word(trigger: Exclude<Trigger, { what: 'seek' }>, entry: WordEntry<Trigger>, at: number): void;
  /** All digits of ASCII in [from, to) are told so, in rising order. */
  digits(from: number, to: number): void;
}

function makeReady(
  of: PatternDetector,
  index: number,
  asked: ReadonlySet<string>,
  vocabulary: Vocabulary,
): Ready {
  const plain = of.context.filter((c) => c.detector === undefined);
  const context = plain.map((c) => compileContext(c, vocabulary));
  const checks = of.checks.map(compileCheck);
  const dear = checks.filter((c) => c.dear);
  const best = (c: Check) => Math.max(0, c.passes, c.fails === 'drop' ? 0 : c.fails);
  return {
    of,
    index,
    checks,
    lacking: stepsOf(of.keepFrom) - of.start,
    needed: stepsOf(of.keepFrom),
    hasDear: dear.length > 0,
    dearSteps:
      dear.reduce((sum, c) => sum + best(c.of), 0) +
      of.context.reduce((sum, c) => sum + (c.detector === undefined ? 0 : Math.max(0, c.steps)), 0),
    checkSteps: checks.reduce((sum, c) => sum + best(c.of), 0),
    contextSteps: mostOf(plain),
    digitlessSteps: mostOf(context.filter((c) => !asksForDigit(c)).map((c) => c.of)),
    digitReach: Math.max(0, ...context.filter(asksForDigit).map((c) => c.of.within)),
    context,
    company: of.context.flatMap((c) =>
      c.detector === undefined
        ? []
        : [{ detector: c.detector, within: c.within, where: c.where, steps: c.steps }],
    ),
    excluded: new Set(of.exclude.values.map(comparable)),
    excludePatterns: of.exclude.patterns.map((p) => new RegExp(p, 'u')),
    waits: of.anchor.by === 'words' && !of.competes && of.start < 0 && !asked.has(of.id),
    base: { words: baseWords(of), steps: of.start },
  };
}

function isExcluded(ready: Ready, value: string): boolean {
  return (
    (ready.excluded.size > 0 && ready.excluded.has(comparable(value))) ||
    ready.excludePatterns.some((p) => p.test(value))
  );
}

/** Whether a word or number ends at `at`, with the marks on its last letter. */
function endsWord(text: string, at: number): boolean {
  const kind = kindOf(text.charCodeAt(at - 1));
  return kind !== NEITHER && /[\p{L}\p{N}]\p{M}*$/u.test(text.slice(Math.max(0, at - 4), at));
}

/** Whether a word that has its letters goes on with this unit. */
const goesOn = (unit: number) =>
  unit === 95 || (kindOf(unit) !== NEITHER && /[\p{M}\p{N}]/u.test(String.fromCharCode(unit)));

/** Sums of fractions are not exact. */
const SLACK = 1e-6;

function baseWords(of: PatternDetector): string {
  if (of.anchor.by === 'pattern') return 'its shape';
  return of.anchor.by === 'words' ? 'its word' : 'read as one';
}

/** A match under way to a finding. Offsets count from the beginning of the whole text. */
interface Hit {
  readonly ready: Ready;
  readonly start: number;
  readonly end: number;
  readonly value: string;
  readonly steps: Step[];
  readonly segment: Segment | undefined;
  readonly line: number;
  dropped: string;
  settled: number;
}

/** A word that is common in writing. It becomes a hit only if what stands near it can make it count. */
interface Waiting {
  readonly ready: Ready;
  readonly start: number;
  readonly end: number;
}

/** A stretch of a text: `text` and `units` reach `MARGIN` beyond [from, to) wherever the whole text does. */
export interface Stretch {
  readonly text: string;
  readonly units: Uint8Array;
  /** The offset of `text` in the whole. */
  readonly base: number;
  readonly from: number;
  readonly to: number;
  /** Offsets as in the whole text. */
  readonly segments: readonly Segment[];
}

class Tally {
  findings = 0;
  best = 0;
  readonly distinct = new Set<string>();
  held: Finding[] = [];
}

/** Reads a text stretch by stretch, in order, and hands findings on as soon as nothing later can change them. */
export class Session implements Finder {
  readonly #next: Float64Array;
  readonly #pendingFrom: Float64Array;
  readonly #pendingTo: Float64Array;
  readonly #pendingLast: Float64Array;
  readonly #pending: number[] = [];
  #farthest = -1;
  readonly #spent: Float64Array;
  readonly #off: Uint8Array;
  readonly #tallies: Tally[];
  readonly #near: NearMiss[] = [];
  readonly #stopped: Stopped[] = [];
  #hits: Hit[] = [];
  #waiting: Waiting[] = [];
  /** Where clusters of digits stand, as far back as it matters. */
  #digitStarts: number[] = [];
  #digitEnds: number[] = [];
  #stretch: Stretch = { text: '', units: new Uint8Array(16), base: 0, from: 0, to: 0, segments: [] };
  #records: ReadonlyMap<number, readonly [number, number]> = new Map();
  readonly #surroundings: Surroundings[] = [];
  #row: TokenRow | undefined;
  #low = 0;
  #high = 0;
  #cellsRead = 0;

  constructor(
    readonly engine: Engine,
    readonly options: DetectOptions,
    readonly found: (finding: Finding) => void,
  ) {
    const n = engine.seekers.length;
    this.#next = new Float64Array(n);
    this.#pendingFrom = new Float64Array(n).fill(-1);
    this.#pendingTo = new Float64Array(n).fill(-1);
    this.#pendingLast = new Float64Array(n);
    this.#spent = new Float64Array(n);
    this.#off = new Uint8Array(n);
    this.#tallies = engine.detectors.map(() => new Tally());
  }

  read(stretch: Stretch): void {
    this.#stretch = stretch;
    this.#surroundings.length = 0;
    this.#low = stretch.from;
    this.#high = stretch.to;
    this.#records = recordsOf(stretch.segments);
    const units =
      stretch.units.length >= stretch.text.length + 8
        ? stretch.units
        : padded(stretch.units, stretch.text.length);
    this.#row = new TokenRow(stretch.text, units, this.engine.vocabulary);
    this.engine.scan(
      stretch.text,
      units,
      stretch.from,
      Math.min(stretch.text.length, stretch.to + LONGEST),
      this.#records.size > 0,
      this,
    );
    this.#flushAll();
    if (this.engine.readsHeadings) this.#readCells();
    this.#settle(stretch.base + stretch.to - MARGIN);
  }

  /** Settles what is left. */
  end(): Omit<DetectionResult, 'findings'> {
    this.#settle(Infinity);
    const verdicts: Verdict[] = [];
    for (const [i, tally] of this.#tallies.entries()) {
      const { of } = this.engine.ready[i] as Ready;
      if (tally.findings === 0) continue;
      const found = tally.distinct.size >= of.atLeast;
      const why = found ? '' : `${tally.distinct.size} distinct, and it asks for ${of.atLeast}`;
      verdicts.push({
        detector: of.id,
        version: of.version,
        found,
        findings: tally.findings,
        distinct: tally.distinct.size,
        confidence: tally.best,
        why,
      });
    }
    return { nearMisses: this.#near, verdicts, stopped: this.#stopped };
  }

  window(seeker: number, from: number, to: number, last: number): void {
    // What is far behind is read now, all together: the patterns share what stands around.
    if (from > this.#farthest) this.#flushAll();
    this.#farthest = Math.max(this.#farthest, to);
    const pendingTo = this.#pendingTo[seeker] as number;
    if (pendingTo >= 0) {
      if (from <= pendingTo) {
        if (to > pendingTo) this.#pendingTo[seeker] = to;
        if (from < (this.#pendingFrom[seeker] as number)) this.#pendingFrom[seeker] = from;
        if (last > (this.#pendingLast[seeker] as number)) this.#pendingLast[seeker] = last;
        return;
      }
      this.#flush(seeker);
    }
    this.#pending.push(seeker);
    this.#pendingFrom[seeker] = from;
    this.#pendingTo[seeker] = to;
    this.#pendingLast[seeker] = last;
  }

  #flushAll(): void {
    for (const seeker of this.#pending) this.#flush(seeker);
    this.#pending.length = 0;
    this.#farthest = -1;
  }

  /** Runs a pattern over the window that was gathered for it. */
  #flush(at: number): void {
    const windowTo = this.#pendingTo[at] as number;
    if (windowTo < 0) return;
    const windowFrom = this.#pendingFrom[at] as number;
    this.#pendingTo[at] = -1;
    if (this.#off[at]) return;
    const { text, base } = this.#stretch;
    const { ready } = this.engine.seekers[at] as Seeker;
    // A window may reach back before this stretch: what began there was found there.
    const from = Math.max(windowFrom, this.#low, (this.#next[at] as number) - base, 0);
    const to = Math.min(windowTo, text.length);
    const last = Math.min(to, this.#high);
    if (from >= last) return;
    const { budget, watch, without } = this.options;
    if (without?.has(ready.index)) return;
    watch?.(ready.index, base + from);
    const began = budget ? budget.now() : 0;
    if (this.#records.size === 0) this.#search(at, from, to, 0, text.length);
    else for (const [low, high] of this.#bounds(from, to)) this.#search(at, from, to, low, high);
    if (budget) this.#charge(at, budget.now() - began, base + from);
  }

  /** Runs a pattern for what begins in [from, to); it sees nothing outside [low, high). */
  #search(at: number, from: number, to: number, low: number, high: number): void {
    const { text, base } = this.#stretch;
    const { regex, margin, ready } = this.engine.seekers[at] as Seeker;
    const last = Math.min(to, this.#high);
    const begin = Math.max(from, low);
    const cut = Math.max(low, begin - margin);
    const slice = text.slice(cut, Math.min(high, to + margin));
    regex.lastIndex = begin - cut;
    for (let m = regex.exec(slice); m; m = regex.exec(slice)) {
      const start = cut + m.index;
      // Farther on, the text may be cut before a match ends.
      if (start >= last || start > (this.#pendingLast[at] as number)) break;
      const length = m[0].length;
      if (length === 0) {
        // By a whole sign: in the middle of a pair it would be found again.
        regex.lastIndex = m.index + ((slice.codePointAt(m.index) ?? 0) > 0xffff ? 2 : 1);
        continue;
      }
      this.#next[at] = base + start + length;
      this.#hit(ready, start, start + length, []);
      if (start + length > (this.#pendingLast[at] as number)) break;
    }
  }

  /** What a match in [from, to) may not reach beyond where there are cells: its own. */
  #bounds(from: number, to: number): readonly (readonly [number, number])[] {
    const { segments, base, text } = this.#stretch;
    const bounds: [number, number][] = [];
    let open = from;
    for (let i = firstEnding(segments, base + from); i < segments.length; i++) {
      const s = segments[i] as Segment;
      if (s.start - base >= to) break;
      if (s.record === undefined) continue;
      const start = Math.max(0, s.start - base);
      if (start > open) bounds.push([open, start]);
      bounds.push([start, Math.min(text.length, s.end - base)]);
      open = s.end - base;
    }
    if (open < to) bounds.push([open, Math.min(text.length, to)]);
    return bounds;
  }

  #charge(at: number, ms: number, where: number): void {
    const spent = ((this.#spent[at] as number) += ms);
    if (spent <= (this.options.budget?.ms ?? Infinity)) return;
    this.#off[at] = 1;
    const { of } = (this.engine.seekers[at] as Seeker).ready;
    this.#stopped.push({
      detector: of.id,
      at: where,
      why: `Its pattern took more than ${this.options.budget?.ms} ms and was left out from here on`,
    });
  }

  word(trigger: Exclude<Trigger, { what: 'seek' }>, entry: WordEntry<Trigger>, at: number): void {
    const { text } = this.#stretch;
    if (at > 0 && endsWord(text, at)) return;
    const end = at + entry.text.length;
    if (trigger.what === 'function') {
      const hit = trigger.fn.at(text, at, end);
      if (hit && hit.end > hit.start) this.#once(trigger.ready, hit.start, hit.end, hit.steps);
      return;
    }
    let stop = end;
    if (trigger.rest) {
      trigger.rest.lastIndex = end;
      const rest = trigger.rest.exec(text);
      if (!rest) return;
      stop = end + rest[0].length;
    } else if (!trigger.stem && end < text.length && goesOn(text.charCodeAt(end))) return;
    if (trigger.stem) while (stop < text.length && /[\p{L}\p{M}]/u.test(text[stop] as string)) stop++;
    if (trigger.ready.waits && !this.options.nearMisses) this.#wait(trigger.ready, at, stop);
    else this.#once(trigger.ready, at, stop, []);
  }

  digits(from: number, to: number): void {
    const { base } = this.#stretch;
    const known = this.#digitEnds.at(-1) ?? -1;
    // What stands beyond a stretch is told twice.
    if (base + to <= known) return;
    this.#digitStarts.push(base + from);
    this.#digitEnds.push(base + to);
  }

  /** Whether a digit may stand in [from, to), by offsets in the whole text. */
  #mayHaveDigit(from: number, to: number): boolean {
    const ends = this.#digitEnds;
    let [low, high] = [0, ends.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((ends[middle] as number) <= from) low = middle + 1;
      else high = middle;
    }
    return low < ends.length && (this.#digitStarts[low] as number) < to;
  }

  #wait(ready: Ready, from: number, to: number): void {
    if (from < this.#low || from >= this.#high) return;
    const waiting = this.#waiting;
    const start = this.#stretch.base + from;
    const end = this.#stretch.base + to;
    for (let i = waiting.length - 1; i >= 0 && i >= waiting.length - 40; i--) {
      const w = waiting[i] as Waiting;
      if (w.end <= start - LONGEST) break;
      if (w.ready !== ready || w.start >= end || w.end <= start) continue;
      if (w.end - w.start >= end - start) return;
      waiting.splice(i, 1);
    }
    waiting.push({ ready, start, end });
  }

  /** Of several matches of one detector that overlap, the longest. */
  #once(ready: Ready, start: number, end: number, steps: readonly Step[]): void {
    // What begins in the margin belongs to the stretch before or after.
    if (start < this.#low || start >= this.#high) return;
    const { base } = this.#stretch;
    for (let i = this.#hits.length - 1; i >= 0 && i >= this.#hits.length - 40; i--) {
      const h = this.#hits[i] as Hit;
      if (h.ready !== ready || h.start >= base + end || h.end <= base + start) continue;
      if (h.settled > 0 || h.end - h.start >= end - start) return;
      this.#hits.splice(i, 1);
    }
    this.#hit(ready, start, end, steps);
  }

  #readCells(): void {
    const { segments, text, base } = this.#stretch;
    for (; this.#cellsRead < segments.length; this.#cellsRead++) {
      const s = segments[this.#cellsRead] as Segment;
      if (s.start - base >= this.#high) break;
      if (s.heading === undefined || s.end - s.start > LONGEST) continue;
      for (const { ready, fn } of this.engine.readersOf(s.heading)) {
        const hit = fn.cell(text, s.start - base, s.end - base);
        if (!hit) continue;
        const taken = this.#hits.some(
          (h) =>
            h.ready === ready &&
            h.start < base + hit.end &&
            h.end > base + hit.start &&
            h.end - h.start >= hit.end - hit.start,
        );
        if (taken) continue;
        this.#hits = this.#hits.filter(
          (h) => h.ready !== ready || h.settled > 0 || h.start >= base + hit.end || h.end <= base + hit.start,
        );
        this.#hit(ready, hit.start, hit.end, hit.steps);
      }
    }
  }

  /** Offsets in the stretch's text. */
  #hit(ready: Ready, start: number, end: number, more: readonly Step[]): void {
    const { text, base, segments } = this.#stretch;
    const value = text.slice(start, end);
    const segment = segments.length > 0 ? segmentAt(segments, base + start) : undefined;
    let steps: Step[];
    let dropped = '';
    if (this.options.nearMisses) {
      steps = [ready.base, ...more];
      dropped = this.#check(ready, value, steps);
      if (ready.context.length > 0)
        steps.push(...weighContext(ready.context, this.#around(start, end, segment)));
    } else {
      const weighed = this.#weigh(ready, value, start, end, segment, more);
      if (!weighed) return;
      steps = weighed;
    }
    this.#hits.push({
      ready,
      start: base + start,
      end: base + end,
      value,
      steps,
      segment,
      line: 0,
      dropped,
      settled: 0,
    });
  }

  /** Adds what the checks say to `steps`; what rules the value out, empty where nothing does. */
  #check(ready: Ready, value: string, steps: Step[]): string {
    for (const check of ready.checks) {
      const result = check.run(value);
      const step = stepOf(check.of, result);
      if (!step) return result.says;
      if (step.steps !== 0) steps.push(step);
    }
    return isExcluded(ready, value) ? 'is excluded' : '';
  }

  /**
   * All that speaks for and against a match; `undefined` where it cannot come to count. What is cheap is looked at
   * first, and the rest only where it can still make a difference.
   */
  #weigh(
    ready: Ready,
    value: string,
    start: number,
    end: number,
    segment: Segment | undefined,
    more: readonly Step[],
  ): Step[] | undefined {
    // A longer match of words keeps shorter ones away even where it does not count itself.
    const mayFail = ready.of.anchor.by === 'pattern';
    const { checks } = ready;
    let steps: Step[] = [ready.base, ...more];
    let open = ready.lacking - ready.dearSteps - sumOf(more);
    for (let i = 0; i < checks.length; i++) {
      const check = checks[i] as CompiledCheck;
      if (check.dear) continue;
      const step = stepOf(check.of, check.run(value));
      if (!step) return undefined;
      open -= step.steps;
      if (step.steps !== 0) steps.push(step);
    }
    if (mayFail && open - ready.contextSteps > SLACK) return undefined;
    let context: readonly Step[] = [];
    if (ready.context.length > 0) {
      const around = this.#around(start, end, segment);
      if (mayFail && open - mostAround(ready.context, around) > SLACK) return undefined;
      context = weighContext(ready.context, around);
      if (mayFail && open - sumOf(context) > SLACK) return undefined;
    }
    if (ready.hasDear) {
      // Told in the order of the detector; what was cheap is known by now.
      steps = [ready.base, ...more];
      for (const check of checks) {
        const step = stepOf(check.of, check.run(value));
        if (!step) return undefined;
        if (step.steps !== 0) steps.push(step);
      }
    }
    if (isExcluded(ready, value)) return undefined;
    steps.push(...context);
    return steps;
  }

  /** Several detectors often match the same characters. */
  #around(start: number, end: number, segment: Segment | undefined): Surroundings {
    const last = this.#surroundings;
    for (let i = last.length - 1; i >= 0; i--) {
      const known = last[i] as Surroundings;
      if (known.start === start && known.end === end) return known;
    }
    const { text, base } = this.#stretch;
    const local =
      segment && base > 0 ? { ...segment, start: segment.start - base, end: segment.end - base } : segment;
    const record = segment?.record === undefined ? undefined : this.#records.get(segment.record);
    const made = new Surroundings(
      text,
      start,
      end,
      local,
      record && [Math.max(0, record[0] - base), record[1] - base],
      this.#row,
    );
    if (last.length >= MOST_SURROUNDINGS) last.length = 0;
    last.push(made);
    return made;
  }

  /** Settles every hit that begins before `upTo`. */
  #settle(upTo: number): void {
    const hits = this.#hits.sort(inOrder);
    const ids = new Map<string, Hit[]>();
    for (const h of hits)
      if (h.dropped === '' && this.#kept(h)) {
        const known = ids.get(h.ready.of.id);
        if (known) known.push(h);
        else ids.set(h.ready.of.id, [h]);
      }
    for (const h of hits)
      if (h.settled === 0 && h.start < upTo && h.dropped === '')
        h.steps.push(...companyOf(h, h.segment, ids));
    this.#weighWaiting(upTo, ids);
    this.#compete(hits, upTo);
    for (const h of hits) {
      if (h.settled > 0 || h.start >= upTo) continue;
      h.settled = 1;
      this.#tell(h);
    }
    // What may still be company or competition stays.
    this.#hits = hits.filter((h) => h.settled === 0 || h.end > upTo - MARGIN);
    if (upTo === Infinity) this.#hits = [];
  }

  /** Makes hits of those words that may count by what stands near them. */
  #weighWaiting(upTo: number, ids: ReadonlyMap<string, readonly Hit[]>): void {
    const { text, base, segments } = this.#stretch;
    const later: Waiting[] = [];
    let some = false;
    for (const w of this.#waiting) {
      if (w.start >= upTo) {
        later.push(w);
        continue;
      }
      const { context, contextSteps, digitlessSteps, digitReach, needed, base: own } = w.ready;
      const segment = segments.length > 0 ? segmentAt(segments, w.start) : undefined;
      const company = w.ready.company.length > 0 ? companyOf(w, segment, ids) : [];
      const lacking = needed - own.steps - w.ready.checkSteps - sumOf(company) - SLACK;
      if (contextSteps < lacking) continue;
      if (digitlessSteps < lacking && !this.#mayHaveDigit(w.start - digitReach, w.end + digitReach)) continue;
      const around = this.#around(w.start - base, w.end - base, segment);
      if (mostAround(context, around) < lacking) continue;
      const value = text.slice(w.start - base, w.end - base);
      const steps = [own];
      if (this.#check(w.ready, value, steps) !== '') continue;
      steps.push(...company, ...weighContext(context, around));
      this.#hits.push({ ...w, value, steps, segment, line: 0, dropped: '', settled: 0 });
      some = true;
    }
    this.#waiting = later;
    const old = this.#digitEnds.findIndex((end) => end > upTo - MARGIN);
    this.#digitStarts = old < 0 ? [] : this.#digitStarts.slice(old);
    this.#digitEnds = old < 0 ? [] : this.#digitEnds.slice(old);
    if (some) this.#hits.sort(inOrder);
  }

  #kept(h: Hit): boolean {
    const sum = sumOf(h.steps);
    return sum > h.ready.needed - SLACK && confidence(sum) >= h.ready.of.keepFrom;
  }

  /** Where several competing detectors read the same characters, the surest keeps them. */
  #compete(hits: readonly Hit[], upTo: number): void {
    const field = hits.filter((h) => h.ready.of.competes && h.dropped === '' && this.#kept(h));
    const beaten: [Hit, Hit][] = [];
    for (const [i, h] of field.entries()) {
      if (h.settled > 0 || h.start >= upTo) continue;
      let by: Hit | undefined;
      for (let j = i - 1; j >= 0 && j >= i - 64; j--) {
        const o = field[j] as Hit;
        if (o.end > h.start && stronger(o, h)) by = o;
      }
      for (let j = i + 1; j < field.length && (field[j] as Hit).start < h.end; j++)
        if (stronger(field[j] as Hit, h)) by = field[j] as Hit;
      if (by) beaten.push([h, by]);
    }
    for (const [h, by] of beaten) h.dropped = `reads as ${by.ready.of.name}, which is surer`;
  }

  #tell(h: Hit): void {
    const { of } = h.ready;
    const { hash, reveal, nearMisses } = this.options;
    const kept = h.dropped === '' && this.#kept(h);
    if (!kept && !nearMisses) return;
    const share = confidence(sumOf(h.steps));
    const key = comparable(h.value);
    const finding: Finding = {
      detector: of.id,
      version: of.version,
      start: h.start,
      end: h.end,
      confidence: share,
      steps: h.steps,
      masked: mask(h.value, of.mask),
      hash: hash ? hash(key) : '',
      place: h.segment?.place ?? {},
      ...(h.segment?.heading === undefined ? {} : { heading: h.segment.heading }),
      ...(reveal ? { value: h.value } : {}),
    };
    if (!kept) {
      if (this.#near.length < MOST_NEAR_MISSES)
        this.#near.push({
          ...finding,
          lacked:
            h.dropped ||
            `${Math.round(share * 100)}% is below the ${Math.round(of.keepFrom * 100)}% it asks for`,
        });
      return;
    }
    const tally = this.#tallies[h.ready.index] as Tally;
    tally.findings++;
    tally.best = Math.max(tally.best, share);
    if (tally.distinct.size < 1_000_000) tally.distinct.add(finding.hash || key);
    if (tally.distinct.size < of.atLeast) {
      tally.held.push(finding);
      return;
    }
    for (const held of tally.held) this.found(held);
    tally.held = [];
    this.found(finding);
  }
}

/** The index of the first stretch that ends beyond `offset`. */
function firstEnding(segments: readonly Segment[], offset: number): number {
  let [low, high] = [0, segments.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((segments[middle] as Segment).end <= offset) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The index of the first that begins at `start` or later. */
function firstFrom(hits: readonly Hit[], start: number): number {
  let [low, high] = [0, hits.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((hits[middle] as Hit).start < start) low = middle + 1;
    else high = middle;
  }
  return low;
}

const inOrder = (a: Hit, b: Hit) => a.start - b.start || b.end - a.end || a.ready.index - b.ready.index;

/** What other detectors found near a match adds to it. */
function companyOf(
  h: Hit | Waiting,
  segment: Segment | undefined,
  ids: ReadonlyMap<string, readonly Hit[]>,
): Step[] {
  const steps: Step[] = [];
  for (const c of h.ready.company) {
    const all = ids.get(c.detector);
    if (!all) continue;
    const near = all.slice(firstFrom(all, h.start - COMPANY), firstFrom(all, h.end + COMPANY)).find((o) => {
      if (o === h || (o.start < h.end && o.end > h.start)) return false;
      const before = o.end <= h.start;
      const distance = before ? h.start - o.end : o.start - h.end;
      if (c.where === 'line' || c.where === 'sentence' || c.where === 'cell') {
        if (segment?.record !== undefined) return o.segment?.record === segment.record;
        return distance <= COMPANY;
      }
      return distance <= c.within && (c.where === 'before' ? before : c.where === 'after' ? !before : true);
    });
    if (near) steps.push({ words: `${near.ready.of.name} near it`, steps: c.steps });
  }
  return steps;
}

function stronger(a: Hit, b: Hit): boolean {
  const [x, y] = [sumOf(a.steps), sumOf(b.steps)];
  if (Math.abs(x - y) > 1e-9) return x > y;
  if (a.end - a.start !== b.end - b.start) return a.end - a.start > b.end - b.start;
  return a.ready.index < b.ready.index;
}

function recordsOf(segments: readonly Segment[]): ReadonlyMap<number, readonly [number, number]> {
  const records = new Map<number, readonly [number, number]>();
  for (const s of segments) {
    if (s.record === undefined) continue;
    const known = records.get(s.record);
    records.set(s.record, known ? [known[0], Math.max(known[1], s.end)] : [s.start, s.end]);
  }
  return records;
}

function padded(units: Uint8Array, length: number): Uint8Array {
  const longer = new Uint8Array(length + 16);
  longer.set(units.subarray(0, length));
  return longer;
}
