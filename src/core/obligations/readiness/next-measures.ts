import type { Measure } from '../framework/framework.ts';
import type { Readiness } from './readiness.ts';

/** What a measure would bring, once it gives its share wherever it counts. */
export interface NextMeasure {
  readonly measure: Measure;
  /** In parts of a point, over all assessments. */
  readonly gain: number;
  /** Controls that it would serve and does not yet: the place of the assessment, and the id. */
  readonly serves: readonly { readonly assessment: number; readonly control: string }[];
}

/**
 * Measures that give nothing yet, those with the most points for an hour of work first; of as many, the one that gains
 * more, then by name. A measure that several assessments ask for is done once and counts in each.
 */
export function nextMeasures(
  readinesses: readonly Readiness[],
  measures: ReadonlyMap<string, Measure>,
): readonly NextMeasure[] {
  const found = new Map<string, { gain: number; serves: { assessment: number; control: string }[] }>();
  for (const [assessment, { controls }] of readinesses.entries())
    for (const { control, measures: standing } of controls)
      for (const m of standing)
        if (m.applies && !m.gives) {
          const at = found.get(m.id) ?? { gain: 0, serves: [] };
          at.gain += m.share;
          at.serves.push({ assessment, control: control.id });
          found.set(m.id, at);
        }
  return [...found]
    .flatMap(([id, at]) => {
      const measure = measures.get(id);
      return measure && at.gain > 0 ? [{ measure, ...at }] : [];
    })
    .sort(
      (a, b) =>
        b.gain / b.measure.hours - a.gain / a.measure.hours ||
        b.gain - a.gain ||
        (a.measure.name < b.measure.name ? -1 : 1),
    );
}
