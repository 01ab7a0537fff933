import { DistinctPeople, peopleOf, type Engine, type Finding } from '../../holdings/offers.ts';
import { decide, type Decision, type Situation, type WeighedHandling } from './decision.ts';
import type { Motion, MotionFinding } from './motion.ts';

/** What somebody puts in motion as text, before it was looked at. */
export type TextInMotion = Omit<Motion, 'findings' | 'item'> & { readonly item?: Partial<Motion['item']> };

export interface TextDecision {
  readonly decision: Decision;
  /** What rules under rehearsal would have come to; nobody is asked or stopped by it. */
  readonly counted: Decision;
  /** As it is decided by, and told. */
  readonly motion: Motion;
  /** What the person is shown: each detector with its first match, masked. */
  readonly shown: readonly { readonly detector: string; readonly matches: number; readonly masked: string }[];
}

/** What a text holds by some detectors, and what becomes of it: the whole of what is done on a device before it goes. */
export function decideText(
  engine: Engine,
  text: string,
  { item, ...rest }: TextInMotion,
  situation: Situation,
  rules: readonly WeighedHandling[],
  rehearsing: readonly WeighedHandling[] = [],
): TextDecision {
  // Values tell people apart, and leave this function as counts and masked.
  const { findings } = engine.detect({ text, segments: [] }, { hash: (value) => value });
  const people = new DistinctPeople();
  people.addAll(peopleOf(findings));
  const motion: Motion = {
    ...rest,
    item: {
      ...{
        name: '',
        format: 'text',
        size: new TextEncoder().encode(text).length,
        level: null,
        document: null,
      },
      ...{ origin: '', ...item, people: people.count().people },
    },
    findings: motionFindings(findings),
  };
  const first = new Map<string, string>();
  for (const f of findings) if (!first.has(f.detector)) first.set(f.detector, f.masked);
  return {
    decision: decide(motion, situation, rules),
    counted: decide(motion, situation, rehearsing),
    motion,
    shown: motion.findings.map(({ detector, matches }) => ({
      ...{ detector, matches, masked: first.get(detector) ?? '' },
    })),
  };
}

/** Matches of each detector, the most first, with the surest of them. */
export function motionFindings(findings: readonly Finding[]): MotionFinding[] {
  const all = new Map<string, { matches: number; confidence: number }>();
  for (const f of findings) {
    const of = all.get(f.detector) ?? { matches: 0, confidence: 0 };
    all.set(f.detector, { matches: of.matches + 1, confidence: Math.max(of.confidence, f.confidence) });
  }
  return [...all].map(([detector, of]) => ({ detector, ...of })).toSorted((a, b) => b.matches - a.matches);
}
