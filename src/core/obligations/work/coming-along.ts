import type { Framework } from '../framework/framework.ts';
import { whyNothing } from '../readiness/readiness.ts';
import type { MeasureWork } from './measure-work.ts';

/** What was done in all cycles, by their number and the measure. */
export interface WorkOfCycles {
  /** The day on which it is asked, `YYYY-MM-DD`. */
  readonly day: string;
  readonly work: ReadonlyMap<number, ReadonlyMap<string, MeasureWork>>;
  /** The last day on which evidence counts, of those that have an end. */
  readonly evidence: ReadonlyMap<number, ReadonlyMap<string, string>>;
}

/** Work that holds in another cycle: the measure, and the cycle it comes from. */
export interface ComingAlong {
  readonly measure: string;
  readonly cycle: number;
  readonly content: MeasureWork;
}

/**
 * What answers controls of a framework and gives its share in another cycle, of measures that nobody worked on in this one;
 * of several cycles the latest. `into` is null for a cycle to come. Measures that test themselves count everywhere, and do
 * not come along.
 */
export function comingAlong(
  { day, work, evidence }: WorkOfCycles,
  { controls }: Pick<Framework, 'controls'>,
  into: number | null,
  testsItself: (measure: string) => boolean,
): readonly ComingAlong[] {
  const wanted = [...new Set(controls.flatMap((c) => c.measures))];
  const begun = into === null ? undefined : work.get(into);
  const cycles = [...work.keys()].filter((c) => c !== into).sort((a, b) => b - a);
  return wanted.flatMap((measure) => {
    if (testsItself(measure) || begun?.has(measure)) return [];
    for (const cycle of cycles) {
      const content = work.get(cycle)?.get(measure);
      if (!content) continue;
      const evidenceUntil = evidence.get(cycle)?.get(measure) ?? null;
      if (whyNothing({ state: content.state, test: content.test, evidenceUntil }, day) === null)
        return [{ measure, cycle, content }];
    }
    return [];
  });
}
