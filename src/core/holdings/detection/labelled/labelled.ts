import { z } from 'zod';
import { wilson, type Share } from '../../../interval.ts';

/** A stretch of a text that a person marked as what a detector should find. */
export const Mark = z.object({
  /** UTF-16 offsets. */
  start: z.int().nonnegative(),
  end: z.int().positive(),
  /** Id of the detector that should find it. */
  label: z.string().min(1).max(64),
});
export type Mark = z.infer<typeof Mark>;

export interface Span {
  readonly start: number;
  readonly end: number;
}

/** One match or mark of one text. */
export interface LabelledCase extends Span {
  /** Index of the text. */
  readonly text: number;
  readonly what: 'right' | 'false alarm' | 'missed';
}

/** How a detector did on texts whose marks are known; `null` where there was nothing to count. */
export interface LabelledScore {
  readonly right: number;
  readonly falseAlarms: number;
  readonly missed: number;
  readonly precision: Share | null;
  readonly recall: Share | null;
  readonly cases: readonly LabelledCase[];
}

/**
 * Holds what was found against what was marked. A finding is right where it and one mark share more than half of the
 * longer of the two; each mark is found once.
 */
export function scoreLabelled(
  texts: readonly { readonly marks: readonly Span[]; readonly found: readonly Span[] }[],
): LabelledScore {
  const cases: LabelledCase[] = [];
  for (const [text, { marks, found }] of texts.entries()) {
    const free = new Set(marks);
    for (const f of found) {
      let met: Span | undefined;
      for (const m of free) if (shared(f, m) > 0.5 && (!met || shared(f, m) > shared(f, met))) met = m;
      if (met) free.delete(met);
      cases.push({ text, start: f.start, end: f.end, what: met ? 'right' : 'false alarm' });
    }
    for (const m of free) cases.push({ text, start: m.start, end: m.end, what: 'missed' });
  }
  const count = (what: LabelledCase['what']) => cases.filter((c) => c.what === what).length;
  const [right, falseAlarms, missed] = [count('right'), count('false alarm'), count('missed')];
  return {
    right,
    falseAlarms,
    missed,
    precision: wilson(right, right + falseAlarms) ?? null,
    recall: wilson(right, right + missed) ?? null,
    cases: cases.sort((a, b) => a.text - b.text || a.start - b.start),
  };
}

/** What a change of a detector did to single cases. */
export interface LabelledChange {
  /** Found now, and rightly. */
  readonly gained: readonly LabelledCase[];
  /** Found rightly before, and no more. */
  readonly lost: readonly LabelledCase[];
  readonly newAlarms: readonly LabelledCase[];
  readonly alarmsGone: readonly LabelledCase[];
}

export function labelledChange(before: LabelledScore, after: LabelledScore): LabelledChange {
  const without = (from: LabelledScore, other: LabelledScore, what: LabelledCase['what']) =>
    from.cases.filter(
      (c) =>
        c.what === what &&
        !other.cases.some((o) => o.what === what && o.text === c.text && shared(o, c) > 0.5),
    );
  return {
    gained: without(after, before, 'right'),
    lost: without(before, after, 'right'),
    newAlarms: without(after, before, 'false alarm'),
    alarmsGone: without(before, after, 'false alarm'),
  };
}

/** What two stretches have in common, as a share of the longer. */
function shared(a: Span, b: Span): number {
  const common = Math.min(a.end, b.end) - Math.max(a.start, b.start);
  return common / Math.max(a.end - a.start, b.end - b.start);
}
