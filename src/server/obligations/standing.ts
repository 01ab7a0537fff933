import { z } from 'zod';
import { assess, type Readiness, type Work } from '../../core/obligations/readiness/readiness.ts';
import { nextMeasures, type NextMeasure } from '../../core/obligations/readiness/next-measures.ts';
import type { Weights } from '../../core/obligations/readiness/weights.ts';
import { countedWork, MeasureWork, NEW_WORK } from '../../core/obligations/work/measure-work.ts';
import { Flag, Instant, JsonColumn } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { allAssessments, type Assessment } from './assessments/assessment-object.ts';
import { providerAnswers, type ToldAnswer } from './work/provider-answers.ts';
import { readinessWeights } from './readiness-weights.ts';
import type { FrameworkLibrary } from './library/framework-library.ts';
import { frameworkLibrary } from './library/own-frameworks.ts';

/** What the program saw of a measure last. */
export interface LiveTest {
  readonly value: number | null;
  /** What it is out of. */
  readonly of: number | null;
  readonly test: 'passed' | 'failed' | null;
  readonly since: string;
  readonly at: string;
}

/** All that readiness is counted from. */
export interface Standing {
  readonly day: string;
  readonly library: FrameworkLibrary;
  readonly assessments: readonly Assessment[];
  /** By cycle and measure. */
  readonly work: ReadonlyMap<number, ReadonlyMap<string, MeasureWork>>;
  /** The last day on which evidence counts, of those that have an end; by cycle and measure. */
  readonly evidence: ReadonlyMap<number, ReadonlyMap<string, string>>;
  readonly live: ReadonlyMap<string, LiveTest>;
  /** What providers said; by cycle and measure. */
  readonly providers: ReadonlyMap<number, ReadonlyMap<string, readonly ToldAnswer[]>>;
  readonly weights: Weights;
}

export async function readStanding(store: Queries, now: Date): Promise<Standing> {
  const library = await frameworkLibrary(store);
  const [assessments, work, evidence, live, weights, providers] = await Promise.all([
    allAssessments(store, library),
    store.all(
      z.object({ cycle_id: z.number(), measure: z.string(), content: JsonColumn(MeasureWork) }),
      'SELECT cycle_id, measure, content FROM measure_work',
    ),
    store.all(
      z.object({ cycle_id: z.number(), measure: z.string(), until: z.string() }),
      `SELECT cycle_id, measure, DATE_FORMAT(MIN(until), '%Y-%m-%d') AS until FROM measure_evidence
       WHERE removed_at IS NULL AND until IS NOT NULL GROUP BY cycle_id, measure`,
    ),
    liveTests(store),
    readinessWeights(store),
    providerAnswers(store),
  ]);
  return {
    ...{ day: now.toISOString().slice(0, 10), library, assessments, live, weights, providers },
    work: byCycle(work, (r) => r.content),
    evidence: byCycle(evidence, (r) => r.until),
  };
}

/** Locked where whoever asks goes on to change them. */
export async function liveTests(store: Queries, lock = false): Promise<ReadonlyMap<string, LiveTest>> {
  const rows = await store.all(
    z.object({
      ...{
        measure: z.string(),
        value: z.number().nullable(),
        of: z.number().nullable(),
        since: Instant,
        at: Instant,
      },
      passed: Flag.nullable(),
    }),
    `SELECT measure, value, out_of AS \`of\`, passed, since, at FROM measure_test${lock ? ' FOR UPDATE' : ''}`,
  );
  return new Map(
    rows.map(({ measure, passed, ...rest }) => [
      measure,
      { ...rest, test: passed === null ? null : passed ? 'passed' : 'failed' },
    ]),
  );
}

function byCycle<R extends { readonly cycle_id: number; readonly measure: string }, T>(
  rows: readonly R[],
  of: (row: R) => T,
): ReadonlyMap<number, ReadonlyMap<string, T>> {
  const found = new Map<number, Map<string, T>>();
  for (const row of rows) {
    const cycle = found.get(row.cycle_id) ?? new Map<string, T>();
    cycle.set(row.measure, of(row));
    found.set(row.cycle_id, cycle);
  }
  return found;
}

/** What counts of all work of a cycle, and of what the program tests. */
export function countedIn(standing: Standing, cycle: number): ReadonlyMap<string, Work> {
  const { measures } = standing.library;
  const work = standing.work.get(cycle);
  const ids = new Set([
    ...(work?.keys() ?? []),
    ...standing.live.keys(),
    ...(standing.providers.get(cycle)?.keys() ?? []),
  ]);
  return new Map(
    [...ids].map((id) => [
      id,
      countedWork(
        measures.get(id),
        work?.get(id) ?? NEW_WORK,
        standing.live.get(id)?.test ?? null,
        standing.evidence.get(cycle)?.get(id) ?? null,
        standing.providers.get(cycle)?.get(id) ?? [],
      ),
    ]),
  );
}

export interface Assessed {
  readonly assessment: Assessment;
  readonly readiness: Readiness;
}

/** Every assessment, or those of one cycle, with how far it is. */
export function assessAll(standing: Standing, cycle?: number): readonly Assessed[] {
  const counted = new Map<number, ReadonlyMap<string, Work>>();
  const whose = whoseOf(standing);
  return standing.assessments
    .filter((a) => cycle === undefined || a.cycleId === cycle)
    .map((assessment) => {
      const work = counted.get(assessment.cycleId) ?? countedIn(standing, assessment.cycleId);
      counted.set(assessment.cycleId, work);
      return { assessment, readiness: readinessIn(assessment, work, whose, standing) };
    });
}

/** Who has to do each measure. */
export function whoseOf({ library }: Pick<Standing, 'library'>): ReadonlyMap<string, 'ours' | 'provider'> {
  return new Map([...library.measures].map(([id, m]) => [id, m.whose]));
}

export function readinessIn(
  { framework, content }: Pick<Assessment, 'framework' | 'content'>,
  work: ReadonlyMap<string, Work>,
  whose: ReadonlyMap<string, 'ours' | 'provider'>,
  { day, weights }: Pick<Standing, 'day' | 'weights'>,
): Readiness {
  return assess(
    { controls: framework.controls, notApplicable: new Set(Object.keys(content.notApplicable)), work },
    whose,
    weights,
    day,
  );
}

/** What to do next in a cycle: a measure is done once for all that is assessed in it. */
export function nextIn({ library }: Standing, assessed: readonly Assessed[]): readonly NextMeasure[] {
  return nextMeasures(
    assessed.map((a) => a.readiness),
    library.measures,
  );
}
