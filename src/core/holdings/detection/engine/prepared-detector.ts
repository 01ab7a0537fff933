import { compileCheck, type CompiledCheck } from '../detector/check.ts';
import { confidence, stepsOf, type Step } from '../detector/confidence.ts';
import { asksForDigit, compileContext, isNear, mostOf, type CompiledContext } from './context-weight.ts';
import { PHRASE } from './surroundings.ts';
import type { Check, Context, PatternDetector } from '../detector/detector.ts';
import { comparable } from '../../../text/mask.ts';
import type { PhraseSet } from '../words/phrase-set.ts';
import type { Lexicon } from '../words/lexicon.ts';

/** Sums of fractions are not exact. */
export const SLACK = 1e-6;

/** A detector made ready to run. */
export interface Prepared {
  readonly of: PatternDetector;
  readonly index: number;
  readonly checks: readonly CompiledCheck[];
  /** Steps that a match needs beside those of its anchor. */
  readonly lacking: number;
  /** All the steps of a match that counts. */
  readonly needed: number;
  /** Of `lacking`, what its surroundings have to give even where all else speaks for a match. */
  readonly leastContext: number;
  /** How far before and behind a match words may speak for it, in units, with room for the whole of a phrase. */
  readonly reach: readonly [number, number];
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
  /** The numbers of the sets of phrases that speak for it near by; `undefined` where something else may too. */
  readonly helpers: readonly number[] | undefined;
  /** Contexts that ask for another detector, settled when all is read. */
  readonly company: readonly {
    readonly detector: string;
    readonly within: number;
    readonly where: string;
    readonly steps: number;
  }[];
  readonly excluded: ReadonlySet<string>;
  readonly excludePatterns: readonly RegExp[];
  /** Its own surroundings are weighed after others’: a word that needs more than itself. */
  readonly waits: boolean;
  /** 1 where it asks for what waits, and so is weighed after that. */
  readonly round: 0 | 1;
  /** Starts with this in every sum. */
  readonly base: Step;
}

/** Which detectors ask for which. */
export interface Asking {
  /** By the id of a detector, those that ask for it. */
  readonly askers: ReadonlyMap<string, readonly PatternDetector[]>;
}

export function askingOf(detectors: readonly PatternDetector[]): Asking {
  const askers = new Map<string, PatternDetector[]>();
  for (const d of detectors)
    for (const { detector } of d.context)
      if (detector !== undefined) askers.set(detector, [...(askers.get(detector) ?? []), d]);
  return { askers };
}

const canWait = (of: PatternDetector) => of.anchor.by === 'words' && !of.competes && of.start < 0;

/** Whether a detector may be weighed after others: all who ask for it can wait for it, and nobody for them. */
function mayWait(of: PatternDetector, { askers }: Asking): boolean {
  return canWait(of) && (askers.get(of.id) ?? []).every((a) => canWait(a) && !askers.has(a.id));
}

/** Throws what a pattern, a check or a context cannot be made of. */
export function prepare(
  of: PatternDetector,
  index: number,
  asking: Asking,
  byId: ReadonlyMap<string, PatternDetector>,
  lexicon: Lexicon,
): Prepared {
  const plain = of.context.filter((c) => c.detector === undefined);
  const context = plain.map((c) => compileContext(c, lexicon));
  const checks = of.checks.map(compileCheck);
  const dear = checks.filter((c) => c.dear);
  const lacking = stepsOf(of.keepFrom) - of.start;
  const best = (c: Check) => Math.max(0, c.passes, c.fails === 'drop' ? 0 : c.fails);
  const dearSteps =
    dear.reduce((sum, c) => sum + best(c.of), 0) +
    of.context.reduce((sum, c) => sum + (c.detector === undefined ? 0 : Math.max(0, c.steps)), 0);
  const checkSteps = checks.reduce((sum, c) => sum + best(c.of), 0);
  return {
    of,
    index,
    checks,
    lacking,
    leastContext: lacking - dearSteps - checkSteps,
    reach: [reachOf(plain, 'before'), reachOf(plain, 'after')],
    // Surer than anything can be.
    needed: of.keepFrom > confidence(Infinity) ? Infinity : stepsOf(of.keepFrom),
    hasDear: dear.length > 0,
    dearSteps,
    checkSteps,
    contextSteps: mostOf(plain),
    digitlessSteps: mostOf(context.filter((c) => !asksForDigit(c)).map((c) => c.of)),
    digitReach: Math.max(0, ...context.filter(asksForDigit).map((c) => c.of.within)),
    context,
    helpers: helpersOf(context),
    company: of.context.flatMap((c) =>
      c.detector === undefined
        ? []
        : [{ detector: c.detector, within: c.within, where: c.where, steps: c.steps }],
    ),
    excluded: new Set(of.exclude.values.map(comparable)),
    excludePatterns: of.exclude.patterns.map((p) => new RegExp(p, 'u')),
    waits: mayWait(of, asking),
    round: of.context.some(({ detector = '' }) => {
      const other = byId.get(detector);
      return other !== undefined && mayWait(other, asking);
    })
      ? 1
      : 0,
    base: { words: baseWords(of), steps: of.start },
  };
}

function helpersOf(contexts: readonly CompiledContext[]): readonly number[] | undefined {
  const near = contexts.filter(({ of }) => of.steps > 0 && of.where !== 'heading');
  if (near.some(({ of, phrases, pattern }) => !phrases || pattern || !isNear(of.where))) return undefined;
  return [...new Set(near.map((c) => (c.phrases as PhraseSet).number))];
}

function reachOf(contexts: readonly Context[], side: 'before' | 'after'): number {
  const near = contexts.filter(
    ({ steps, where }) =>
      steps > 0 && (where === side || where === 'around' || (where === 'brackets' && side === 'after')),
  );
  return PHRASE + Math.max(0, ...near.map((c) => c.within));
}

export function isExcluded(ready: Prepared, value: string): boolean {
  return (
    (ready.excluded.size > 0 && ready.excluded.has(comparable(value))) ||
    ready.excludePatterns.some((p) => p.test(value))
  );
}

function baseWords(of: PatternDetector): string {
  if (of.anchor.by === 'pattern') return 'its shape';
  return of.anchor.by === 'words' ? 'its word' : 'read as one';
}
