import { z } from 'zod';
import { HandsRule } from '../../../core/access/hands/hands-rule.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { refuseTakenName } from '../../rules/named-table.ts';
import { JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { askAccess } from '../index/ask-access.ts';
import type { HandsView } from '../index/change-answers.ts';

const Row = z.object({ id: z.number(), content: JsonColumn(HandsRule) });

export interface StoredHandsRule extends HandsRule {
  readonly id: number;
}

export async function handsRules(store: Queries): Promise<readonly StoredHandsRule[]> {
  const rows = await store.all(Row, 'SELECT id, content FROM access_hands_rule ORDER BY name');
  return rows.map((r) => ({ ...r.content, id: r.id }));
}

/** The rules, each with who has both sides now. */
export async function viewHands(ctx: Context): Promise<readonly HandsView[]> {
  return askAccess(ctx, 'hands', { rules: await handsRules(ctx.store) });
}

/** Throws a RefusedError for a name that is taken, and for two sides that are one. */
export async function addHandsRule(ctx: Context, by: number, rule: HandsRule): Promise<number> {
  if (JSON.stringify(rule.one) === JSON.stringify(rule.other))
    throw new RefusedError('Both sides are the same.', [
      { field: 'other', message: 'Choose what nobody may have besides the first.' },
    ]);
  return ctx.store.transaction(async (tx) => {
    const { id } = await refuseTakenName('rule of two pairs of hands', () =>
      tx.run('INSERT INTO access_hands_rule (name, content, made_by, made_at) VALUES (?, ?, ?, ?)', [
        ...[rule.name, JSON.stringify(rule), by, toDatetime(ctx.now())],
      ]),
    );
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'hands-rule.add', object: 'hands rule', objectId: id },
      detail: { name: rule.name },
    });
    return id;
  });
}

/** Throws a RefusedError (404). */
export async function removeHandsRule(ctx: Context, by: number, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run('DELETE FROM access_hands_rule WHERE id = ?', [id]);
    if (changed === 0) throw notFound('rule');
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'hands-rule.remove', object: 'hands rule', objectId: id, detail: {} },
    });
  });
}
