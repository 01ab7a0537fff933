import type { Measure } from '../../../core/obligations/framework/framework.ts';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { assessAll, readStanding } from '../standing.ts';
import { listedMeasure, type ListedMeasure } from '../assessments/assessment-view.ts';
import { evidenceOf, type ListedEvidence } from './evidence.ts';
import { commentsOf, type MeasureComment } from './measure-comments.ts';
import type { ToldAnswer } from './provider-answers.ts';
import { readWorkKey } from './measure-work-object.ts';

/** A measure of a cycle beside what it is for. */
export interface MeasureView extends ListedMeasure {
  readonly measure: Measure;
  readonly cycle: string;
  readonly evidence: readonly ListedEvidence[];
  readonly comments: readonly MeasureComment[];
  /** What providers said of it. */
  readonly providers: readonly ToldAnswer[];
  /** Controls of the cycle’s assessments that it answers, with what it gives there; in parts. */
  readonly serves: readonly {
    readonly assessment: number;
    readonly framework: string;
    readonly ref: string;
    readonly name: string;
    readonly share: number;
    readonly gives: boolean;
    readonly why: string | null;
  }[];
  /** Other frameworks of the library that it would answer, too. */
  readonly also: readonly string[];
}

/** Throws a RefusedError (404). */
export async function viewMeasure(ctx: Context, key: string): Promise<MeasureView> {
  const { cycle, measure: id } = readWorkKey(key);
  const standing = await readStanding(ctx.store, ctx.now());
  const measure = standing.library.measures.get(id);
  const assessed = assessAll(standing, cycle);
  const [first] = assessed;
  if (!measure || !first) throw notFound('measure');
  const serves = assessed.flatMap(({ assessment, readiness }) =>
    readiness.controls.flatMap(({ control, measures }) =>
      measures
        .filter((m) => m.id === id)
        .map((m) => ({
          ...{ assessment: assessment.id, framework: assessment.framework.name, ref: control.ref },
          ...{ name: control.name, share: m.share, gives: m.gives, why: m.why },
        })),
    ),
  );
  const running = new Set(assessed.map((a) => a.assessment.framework.id));
  return {
    ...listedMeasure(standing, cycle, id),
    ...{ measure, serves, cycle: first.assessment.cycle, evidence: await evidenceOf(ctx.store, cycle, id) },
    comments: await commentsOf(ctx.store, cycle, id),
    providers: standing.providers.get(cycle)?.get(id) ?? [],
    also: standing.library
      .newest()
      .filter((f) => !running.has(f.id) && f.controls.some((c) => c.measures.includes(id)))
      .map((f) => f.name),
  };
}

/** All measures that a cycle’s assessments ask for, by name. */
export interface MeasureList {
  readonly cycles: readonly { readonly id: number; readonly name: string }[];
  readonly measures: readonly (ListedMeasure & { readonly cycle: string })[];
}

export async function listMeasures(ctx: Context): Promise<MeasureList> {
  const standing = await readStanding(ctx.store, ctx.now());
  const cycles = [...new Map(standing.assessments.map((a) => [a.cycleId, a.cycle]))];
  return {
    cycles: cycles.map(([id, name]) => ({ id, name })),
    measures: cycles.flatMap(([id, cycle]) =>
      [
        ...new Set(
          standing.assessments
            .filter((a) => a.cycleId === id)
            .flatMap((a) => a.framework.controls.flatMap((c) => c.measures)),
        ),
      ]
        .map((m) => ({ ...listedMeasure(standing, id, m), cycle }))
        .sort((a, b) => a.name.localeCompare(b.name)),
    ),
  };
}
