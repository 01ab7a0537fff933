import { compileCheck, stepOf } from '../detector/check.ts';
import { confidence, sumOf, type Step } from '../detector/confidence.ts';
import { compileContext, weighContext } from './context-weight.ts';
import { Surroundings } from './surroundings.ts';
import type { PatternDetector } from '../detector/detector.ts';

export interface PlainFinding {
  readonly detector: string;
  readonly start: number;
  readonly end: number;
  readonly confidence: number;
}

/** Detection the slow and obvious way: every pattern over the whole text, one after the other. For detectors that neither compete nor ask for others. */
export function detectSlowly(detectors: readonly PatternDetector[], text: string): readonly PlainFinding[] {
  const out: PlainFinding[] = [];
  for (const d of detectors) {
    if (d.anchor.by !== 'pattern') throw new RangeError('Patterns only.');
    const context = d.context.map((c) => compileContext(c));
    const checks = d.checks.map(compileCheck);
    for (const m of text.matchAll(new RegExp(d.anchor.pattern, d.anchor.ignoreCase ? 'giu' : 'gu'))) {
      if (m[0] === '') continue;
      const [start, end] = [m.index, m.index + m[0].length];
      const steps: (Step | undefined)[] = [{ words: '', steps: d.start }];
      for (const c of checks) steps.push(stepOf(c.of, c.run(m[0])));
      if (steps.includes(undefined)) continue;
      steps.push(...weighContext(context, new Surroundings(text, start, end, undefined, undefined)));
      const share = confidence(sumOf(steps as Step[]));
      if (share >= d.keepFrom) out.push({ detector: d.id, start, end, confidence: share });
    }
  }
  return out.sort((a, b) => a.start - b.start || a.end - b.end || (a.detector < b.detector ? -1 : 1));
}
