import { RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import type { Key, RuleKind } from './rule-kind.ts';
import { readRule, refuseStale, removeRule } from './rule-store.ts';

/**
 * Removes a draft that was never rehearsed nor in force, for good. Throws a RefusedError (409) for one that was, for a
 * kind whose drafts stay, or where somebody saved it since `revision`.
 */
export async function removeDraft<T>(
  ctx: Context,
  kind: RuleKind<T>,
  by: number,
  key: Key,
  revision: number,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const rule = await readRule(tx, kind, key, true);
    if (!kind.removed) throw new RefusedError(`A ${kind.object} stays on record.`, [], 409);
    if (rule.lastVersion > 0)
      throw new RefusedError(
        'It has been rehearsed or in force, so it stays on record.',
        [{ field: 'id', message: 'Retire it instead.' }],
        409,
      );
    refuseStale(rule, revision, kind.object);
    const detail = { name: await kind.name(tx, key, rule.content), ...kind.removedDetail?.(rule.content) };
    await kind.removed(tx, key);
    await removeRule(tx, kind, key);
    await record(tx, ctx.now(), {
      actor: by,
      action: `${kind.object.replaceAll(' ', '-')}.remove`,
      object: kind.object,
      objectId: key,
      detail,
    });
  });
}
