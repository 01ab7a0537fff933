import { z } from 'zod';
import type { Framework } from '../../../core/obligations/framework/framework.ts';
import type { Tally, Work } from '../../../core/obligations/readiness/readiness.ts';
import { NEW_ASSESSMENT, type AssessmentContent } from '../../../core/obligations/work/assessment-content.ts';
import { comingAlong, type ComingAlong } from '../../../core/obligations/work/coming-along.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { isDuplicate, type Queries } from '../../store/pool.ts';
import { toDatetime } from '../../store/columns.ts';
import { frameworkLibrary } from '../library/own-frameworks.ts';
import { countedIn, readinessIn, readStanding, whoseOf, type Standing } from '../standing.ts';
import { writeWork } from '../work/measure-work-object.ts';

export interface Start {
  readonly framework: string;
  /** An open one, by its number; or the name of a new one. */
  readonly cycle: number | string;
  readonly lead: number | null;
  readonly due: string | null;
}

/** What of other cycles still holds for a framework. */
function broughtAlong(standing: Standing, framework: Framework, into: number | null): readonly ComingAlong[] {
  const { measures } = standing.library;
  // What the program tests counts everywhere by itself.
  return comingAlong(standing, framework, into, (id) => measures.get(id)?.test !== undefined);
}

/** What an assessment would be on its first day. */
export interface StartPreview {
  readonly tally: Tally;
  readonly comesAlong: readonly { readonly measure: string; readonly name: string; readonly cycle: string }[];
  /** Measures of it that are in no running assessment yet. */
  readonly newMeasures: number;
  readonly measures: number;
}

/** Throws a RefusedError (404). */
export async function previewStart(ctx: Context, id: string, cycle: number | null): Promise<StartPreview> {
  const standing = await readStanding(ctx.store, ctx.now());
  const { measures } = standing.library;
  const framework = standing.library.framework(id);
  if (!framework) throw notFound('framework');
  const along = broughtAlong(standing, framework, cycle);
  const work = new Map<string, Work>(countedIn(standing, cycle ?? 0));
  for (const { measure, content, cycle: from } of along)
    work.set(measure, {
      ...{ state: content.state, test: content.test },
      evidenceUntil: standing.evidence.get(from)?.get(measure) ?? null,
    });
  const { tally } = readinessIn({ framework, content: NEW_ASSESSMENT }, work, whoseOf(standing), standing);
  const running = new Set(
    standing.assessments.flatMap((a) => a.framework.controls.flatMap((c) => c.measures)),
  );
  const asked = new Set(framework.controls.flatMap((c) => c.measures));
  const cycles = new Map(standing.assessments.map((a) => [a.cycleId, a.cycle]));
  return {
    ...{ tally, measures: asked.size, newMeasures: [...asked].filter((m) => !running.has(m)).length },
    comesAlong: along.map((a) => ({
      ...{ measure: a.measure, name: measures.get(a.measure)?.name ?? a.measure },
      cycle: cycles.get(a.cycle) ?? '',
    })),
  };
}

/**
 * Starts an assessment in a cycle; its id. What others already answer comes along with its evidence. Throws a RefusedError
 * for a framework that does not ship, or is assessed in the cycle already (409).
 */
export async function startAssessment(
  ctx: Context,
  by: number | null,
  { framework: id, cycle, lead, due }: Start,
): Promise<number> {
  const framework = (await frameworkLibrary(ctx.store)).framework(id);
  if (!framework) throw notFound('framework');
  if (due !== null && due < ctx.now().toISOString().slice(0, 10))
    throw new RefusedError('That day is over.', [{ field: 'due', message: 'Choose one to come.' }]);
  return ctx.store.transaction(async (tx) => {
    const cycleId = await cycleOf(ctx, tx, by, cycle);
    return startIn(ctx, tx, by, cycleId, framework, { ...NEW_ASSESSMENT, lead, due });
  });
}

/** The same in the transaction of a change that begins it, with what is said of it already; its id. */
export async function startIn(
  ctx: Context,
  tx: Queries,
  by: number | null,
  cycleId: number,
  framework: Framework,
  content: AssessmentContent,
): Promise<number> {
  const standing = await readStanding(tx, ctx.now());
  const assessment = await tx
    .run(
      'INSERT INTO assessment (cycle_id, framework, version, content, started_by, started_at) VALUES (?, ?, ?, ?, ?, ?)',
      [
        ...[cycleId, framework.id, framework.version, JSON.stringify(content)],
        ...[by, toDatetime(ctx.now())],
      ],
    )
    .catch((error: unknown) => {
      if (!isDuplicate(error)) throw error;
      throw new RefusedError(
        `${framework.name} is assessed in this cycle already.`,
        [{ field: 'framework', message: 'Choose another cycle.' }],
        409,
      );
    });
  const along = broughtAlong(standing, framework, cycleId);
  for (const { measure, content: work, cycle: from } of along) {
    await writeWork(tx, cycleId, measure, work, from);
    await tx.run(
      `INSERT INTO measure_evidence (cycle_id, measure, name, hash, size, body, until, link, provider_hash, added_by, added_at)
       SELECT ?, measure, name, hash, size, body, until, link, provider_hash, added_by, added_at FROM measure_evidence
       WHERE cycle_id = ? AND measure = ? AND removed_at IS NULL`,
      [cycleId, from, measure],
    );
  }
  await record(tx, ctx.now(), {
    ...{ actor: by ?? 'system', action: 'assessment.start', object: 'assessment', objectId: assessment.id },
    detail: {
      framework: framework.id,
      version: framework.version,
      cycle: cycleId,
      along: along.map((a) => a.measure),
    },
  });
  return assessment.id;
}

async function cycleOf(
  ctx: Context,
  tx: Queries,
  by: number | null,
  cycle: number | string,
): Promise<number> {
  if (typeof cycle === 'number') {
    const found = await tx.one(z.object({ id: z.number() }), 'SELECT id FROM assessment_cycle WHERE id = ?', [
      cycle,
    ]);
    if (!found) throw notFound('cycle');
    return found.id;
  }
  return newCycle(ctx, tx, by, cycle);
}

/** Throws a RefusedError for a name that is taken. */
export async function newCycle(ctx: Context, tx: Queries, by: number | null, name: string): Promise<number> {
  const { id } = await tx
    .run('INSERT INTO assessment_cycle (name, made_by, made_at) VALUES (?, ?, ?)', [
      ...[name, by, toDatetime(ctx.now())],
    ])
    .catch((error: unknown) => {
      if (!isDuplicate(error)) throw error;
      throw new RefusedError('There is a cycle of this name.', [
        { field: 'cycle', message: 'Choose it, or another name.' },
      ]);
    });
  return id;
}
