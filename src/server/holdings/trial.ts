import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { RefusedError } from '../../core/refusal.ts';
import { sentencesOf, type DetectorLine } from '../../core/holdings/detector-sentence.ts';
import { BUILT_INS, builtInDetectors } from '../../core/holdings/library.ts';
import type { Finding, NearMiss } from '../../core/holdings/finding.ts';
import type { PatternDetector } from '../../core/holdings/detector.ts';
import { projectFolder } from '../process.ts';
import { DetectPool, TookTooLong } from './detect-pool.ts';
import type { Extracted, Problem } from './extract/extracted.ts';

const TRIAL_MS = 10_000;
const MOST_TEXT = 400_000;
const THREADS = 2;

export interface Trial {
  /** What was read: the pasted text, or a file’s, cut at some length. */
  readonly text: string;
  readonly kind: string;
  readonly cut: boolean;
  readonly findings: readonly Finding[];
  readonly nearMisses: readonly NearMiss[];
  readonly problems: readonly Problem[];
  readonly ms: number;
}

let shared: DetectPool | undefined;

/** The threads in which this process tries detectors. */
function pool(): DetectPool {
  if (!shared) {
    const file = join(projectFolder(), 'dist', 'detect-thread.mjs');
    if (!existsSync(file)) throw new Error('dist/detect-thread.mjs is missing: build first.');
    shared = new DetectPool(
      { detectors: builtInDetectors(), rosters: [], likeness: [], learned: [], key: '' },
      THREADS,
      512,
      file,
    );
  }
  return shared;
}

export interface ListedDetector {
  readonly id: string;
  readonly name: string;
  readonly category: string;
  readonly country: string;
}

export function listBuiltIn(): readonly ListedDetector[] {
  return builtInDetectors().map(({ id, name, category, country }) => ({ id, name, category, country }));
}

export interface DescribedDetector {
  readonly detector: PatternDetector;
  readonly lines: readonly DetectorLine[];
  /** Texts with the value between ⟦ and ⟧, and texts in which it stays silent. */
  readonly examples: readonly string[];
  readonly counterExamples: readonly string[];
}

/** Throws a RefusedError (404). */
export function describeBuiltIn(id: string): DescribedDetector {
  const detector = findBuiltIn(id);
  const { examples = [], counterExamples = [] } = BUILT_INS.find((b) => b.id === id) ?? {};
  return { detector, lines: sentencesOf(detector), examples, counterExamples };
}

/** The built-in detector of that name; throws a RefusedError (404). */
export function findBuiltIn(id: string): PatternDetector {
  const found = builtInDetectors().find((d) => d.id === id);
  if (!found)
    throw new RefusedError(
      `There is no detector “${id}”.`,
      [{ field: 'id', message: 'Choose one of the register.' }],
      404,
    );
  return found;
}

/** Tries the built-in detectors, or one of them, on a text or a file. Nothing of it is kept. */
export async function tryDetectors(
  input: { readonly text: string } | { readonly name: string; readonly bytes: Buffer },
  only: string | undefined,
): Promise<Trial> {
  const begun = performance.now();
  try {
    const extracted: Extracted =
      'text' in input
        ? { text: input.text, segments: [], problems: [], kind: 'plain text' }
        : await pool().run({ what: 'extract', bytes: input.bytes, name: input.name }, TRIAL_MS);
    const cut = extracted.text.length > MOST_TEXT;
    const text = extracted.text.slice(0, MOST_TEXT);
    const segments = cut ? extracted.segments.filter((s) => s.end <= MOST_TEXT) : extracted.segments;
    const examined = await pool().run(
      { what: 'extracted', extracted: { ...extracted, text, segments }, options: { nearMisses: true } },
      TRIAL_MS,
    );
    const mine = (f: Finding) => only === undefined || f.detector === only;
    return {
      text,
      kind: extracted.kind,
      cut,
      findings: examined.findings.filter(mine),
      // Without a detector chosen, what nearly counted everywhere would hide what counts.
      nearMisses: only === undefined ? [] : examined.nearMisses.filter(mine).slice(0, 200),
      problems: extracted.problems,
      ms: Math.round(performance.now() - begun),
    };
  } catch (error) {
    if (!(error instanceof TookTooLong)) throw error;
    throw new RefusedError('Reading this took too long and was ended.', [
      { field: 'text', message: 'Try a smaller piece of it.' },
    ]);
  }
}
