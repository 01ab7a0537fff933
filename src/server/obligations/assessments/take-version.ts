import type { Framework } from '../../../core/obligations/framework/framework.ts';
import { dueVersion } from '../../../core/obligations/work/assessment-content.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { frameworkLibrary } from '../library/own-frameworks.ts';
import { allAssessments, findAssessment, type Assessment } from './assessment-object.ts';

/** An assessment held to another version: what does not apply stays so where the control is still there. */
export function heldTo(assessment: Assessment, framework: Framework): Assessment {
  const known = new Set(framework.controls.map((c) => c.id));
  const notApplicable = Object.fromEntries(
    Object.entries(assessment.content.notApplicable).filter(([control]) => known.has(control)),
  );
  return { ...assessment, framework, content: { ...assessment.content, notApplicable } };
}

/** Holds an assessment against the newest version of its framework. Throws a RefusedError (404), or (409) where it is. */
export async function takeVersion(ctx: Context, by: number | null, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const assessment = await findAssessment(tx, id, true);
    const { framework } = assessment;
    const newest = (await frameworkLibrary(tx)).framework(framework.id);
    if (!newest || newest.version <= framework.version)
      throw new RefusedError(`There is no newer version of ${framework.name}.`, [], 409);
    const content = { ...heldTo(assessment, newest).content, newer: null };
    await tx.run('UPDATE assessment SET version = ?, content = ? WHERE id = ?', [
      ...[newest.version, JSON.stringify(content), id],
    ]);
    await record(tx, ctx.now(), {
      ...{ actor: by ?? 'system', action: 'assessment.version', object: 'assessment', objectId: id },
      detail: { before: framework.version, after: newest.version },
    });
  });
}

/** Takes the versions whose day has come. */
export async function takeDueVersions(ctx: Context): Promise<void> {
  const day = ctx.now().toISOString().slice(0, 10);
  const library = await frameworkLibrary(ctx.store);
  for (const { id, framework, content } of await allAssessments(ctx.store, library)) {
    const newest = library.framework(framework.id)?.version ?? '';
    if (dueVersion(content, day) === null || newest <= framework.version) continue;
    await takeVersion(ctx, null, id).catch((error: unknown) => {
      // Another worker was there before.
      if (!(error instanceof RefusedError)) throw error;
    });
  }
}
