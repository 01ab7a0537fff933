import { RefusedError } from '../../../core/refusal.ts';
import type { RetentionRuleDraft } from '../../../core/retention/rules/retention-rule.ts';
import type { Context } from '../../context.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import { readRetentionPolicy } from '../policy.ts';
import { RETENTION_RULE } from '../rules/retention-rules.ts';
import { askRetention, retentionWeighing } from '../weighing.ts';

/** Retention rules, which say why where they ask for another time than the law lets. */
export const REASONED_RULE: RuleKind<RetentionRuleDraft> = {
  ...RETENTION_RULE,
  beforeForce: async (ctx, id, { beyond, then }) => {
    if (then === 'archive' && (await readRetentionPolicy(ctx.store)).archive === '')
      throw new RefusedError('Nobody said yet where the archive is.', [
        {
          field: 'then',
          message: 'Name a folder or an object store in the retention policy, below the schedule.',
        },
      ]);
    await refuseUnreasoned(ctx, String(id), beyond);
  },
};

/** Throws a RefusedError where a rule asks for another time than the law lets, and no reason is written. */
async function refuseUnreasoned(ctx: Context, rule: string, beyond: string): Promise<void> {
  if (beyond !== '') return;
  const weighing = await retentionWeighing(ctx, { rule });
  const { movedBy } = await askRetention(ctx, 'the program', weighing, { what: 'rule', id: rule, above: '' });
  const [first] = movedBy;
  if (!first) return;
  const bound = weighing.bounds.find((b) => b.id === first.bound);
  const items = first.items === 1 ? '1 of its items' : `${first.items} of its items`;
  throw new RefusedError(`It asks for another time than “${bound?.name ?? first.bound}” lets.`, [
    {
      field: 'beyond',
      message: `${bound?.article ?? 'The law'} moves ${items}. Have it keep to that, or say why it asks for more; the law stands all the same.`,
    },
  ]);
}
