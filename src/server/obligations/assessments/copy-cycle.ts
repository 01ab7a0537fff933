import { z } from 'zod';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { frameworkLibrary } from '../library/own-frameworks.ts';
import { allAssessments } from './assessment-object.ts';
import { startIn, newCycle } from './start-assessment.ts';
import { heldTo } from './take-version.ts';

/**
 * Begins the next cycle with all assessments of one: by the newest version of each framework, with who leads it, its scope and
 * what does not apply, and the work that still holds with its evidence. The number of the new cycle. Throws a RefusedError
 * (404), or for a name that is taken.
 */
export async function copyCycle(
  ctx: Context,
  by: number,
  cycle: number,
  { name, due }: { readonly name: string; readonly due: string | null },
): Promise<{ readonly id: number }> {
  if (due !== null && due < ctx.now().toISOString().slice(0, 10))
    throw new RefusedError('That day is over.', [{ field: 'due', message: 'Choose one to come.' }]);
  return ctx.store.transaction(async (tx) => {
    const found = await tx.one(
      z.object({ id: z.number() }),
      'SELECT id FROM assessment_cycle WHERE id = ? FOR UPDATE',
      [cycle],
    );
    if (!found) throw notFound('cycle');
    const library = await frameworkLibrary(tx);
    const all = (await allAssessments(tx, library)).filter((a) => a.cycleId === cycle);
    const id = await newCycle(ctx, tx, by, name);
    for (const assessment of all) {
      const framework = library.framework(assessment.framework.id) ?? assessment.framework;
      const { content } = heldTo(assessment, framework);
      await startIn(ctx, tx, by, id, framework, { ...content, due, newer: null });
    }
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'cycle.copy', object: 'assessment', objectId: all[0]?.id ?? 0 },
      detail: { from: cycle, to: id, frameworks: all.map((a) => a.framework.id) },
    });
    return { id };
  });
}
