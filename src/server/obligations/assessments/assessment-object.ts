import { z } from 'zod';
import type { AuthorityObject } from '../../../core/accounts/authority.ts';
import type { Framework } from '../../../core/obligations/framework/framework.ts';
import {
  AssessmentContent,
  assessmentVocabulary,
} from '../../../core/obligations/work/assessment-content.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { Instant, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { systemNames } from '../../holdings/offers.ts';
import { accountNames } from '../../accounts/account-names.ts';
import type { FrameworkLibrary } from '../library/framework-library.ts';
import { frameworkLibrary } from '../library/own-frameworks.ts';

const Row = z.object({
  id: z.number(),
  cycle_id: z.number(),
  cycle: z.string(),
  framework: z.string(),
  version: z.string(),
  content: JsonColumn(AssessmentContent),
  started_at: Instant,
});

export interface Assessment {
  readonly id: number;
  readonly cycleId: number;
  readonly cycle: string;
  readonly framework: Framework;
  readonly content: AssessmentContent;
  readonly startedAt: string;
}

const SELECT = `SELECT a.id, a.cycle_id, c.name AS cycle, a.framework, DATE_FORMAT(a.version, '%Y-%m-%d') AS version, a.content, a.started_at
  FROM assessment a JOIN assessment_cycle c ON c.id = a.cycle_id`;

function toAssessment(
  library: FrameworkLibrary,
  { cycle_id, started_at, framework, version, ...row }: z.infer<typeof Row>,
): Assessment {
  // A version that is not there any more is read as the newest, whose ids are the same.
  const found = library.framework(framework, version) ?? library.framework(framework);
  if (!found) throw notFound('framework');
  return { ...row, cycleId: cycle_id, startedAt: started_at, framework: found };
}

/** By cycle, the latest first, then by the name of the framework. */
export async function allAssessments(
  store: Queries,
  library: FrameworkLibrary,
): Promise<readonly Assessment[]> {
  const rows = await store.all(Row, `${SELECT} ORDER BY c.id DESC, a.id`);
  return rows.map((r) => toAssessment(library, r));
}

/** Throws a RefusedError (404). */
export async function findAssessment(store: Queries, id: number | string, lock = false): Promise<Assessment> {
  const row = await store.one(Row, `${SELECT} WHERE a.id = ?${lock ? ' FOR UPDATE' : ''}`, [id]);
  if (!row) throw notFound('assessment');
  return toAssessment(await frameworkLibrary(store), row);
}

export async function assessmentObject(ctx: Context, { id }: { id: number }): Promise<AuthorityObject> {
  await findAssessment(ctx.store, id);
  return { kind: 'assessment', id };
}

export const ASSESSMENT: PlainKind<AssessmentContent> = {
  object: 'assessment',
  content: AssessmentContent,
  vocabulary: async (store) =>
    assessmentVocabulary(
      await accountNames(store),
      new Map(
        (await frameworkLibrary(store))
          .all()
          .flatMap((f) => f.controls.map((c) => [c.id, `${f.name}, ${c.ref}`] as const)),
      ),
      await systemNames(store),
    ),
  read: async (store, key, lock) => (await findAssessment(store, key, lock)).content,
  async write(tx, key, content) {
    const { framework } = await findAssessment(tx, key, true);
    const unknown = Object.keys(content.notApplicable).find(
      (id) => !framework.controls.some((c) => c.id === id),
    );
    if (unknown !== undefined)
      throw new RefusedError(`${framework.name} has no control ${unknown}.`, [
        { field: 'content.notApplicable', message: 'Choose among its controls.' },
      ]);
    await tx.run('UPDATE assessment SET content = ? WHERE id = ?', [JSON.stringify(content), key]);
  },
};
