import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { ShippedLibrary } from '../library/shipped-library.ts';
import { findAssessment } from './assessment-object.ts';

/**
 * Holds an assessment against the newest version of its framework. What does not apply stays so where the control is still
 * there. Throws a RefusedError (404), or (409) where it is held against it already.
 */
export async function takeVersion(ctx: Context, by: number, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { framework, content } = await findAssessment(tx, id, true);
    const newest = ShippedLibrary.get().framework(framework.id);
    if (!newest || newest.version <= framework.version)
      throw new RefusedError(`There is no newer version of ${framework.name}.`, [], 409);
    const known = new Set(newest.controls.map((c) => c.id));
    const notApplicable = Object.fromEntries(
      Object.entries(content.notApplicable).filter(([control]) => known.has(control)),
    );
    await tx.run('UPDATE assessment SET version = ?, content = ? WHERE id = ?', [
      ...[newest.version, JSON.stringify({ ...content, notApplicable }), id],
    ]);
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'assessment.version', object: 'assessment', objectId: id },
      detail: { before: framework.version, after: newest.version },
    });
  });
}
