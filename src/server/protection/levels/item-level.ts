import { z } from 'zod';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { itemRows, sourceNames } from '../../holdings/offers.ts';
import { Instant } from '../../store/columns.ts';
import { openProposals } from '../proposals/proposals.ts';
import { explainItem, weighing } from '../rules/level-outlook.ts';
import { levelsInForce } from './levels.ts';

const Row = z.object({
  level: z.string(),
  set_at: Instant,
  unstamped: z.string().nullable(),
  reason: z.string(),
  account: z.string().nullable(),
});

/** The level of an item as it stands, and as the rules in force say it should be, with why. */
export async function levelOfItem(ctx: Context, item: number) {
  const [rows, weighed, levels, sources, stands] = await Promise.all([
    itemRows(ctx.store, [item]),
    weighing(ctx),
    levelsInForce(ctx),
    sourceNames(ctx.store),
    ctx.store.one(
      Row,
      `SELECT l.level, l.set_at, l.unstamped, l.reason, a.name AS account
       FROM item_level l LEFT JOIN account a ON a.id = l.account_id WHERE l.item_id = ?`,
      [item],
    ),
  ]);
  const row = rows.get(item);
  if (!row) throw notFound('item');
  return {
    stands: stands
      ? {
          level: stands.level,
          name: weighed.names.level(stands.level),
          since: stands.set_at,
          unstamped: stands.unstamped,
          reason: stands.reason,
          by: stands.account,
        }
      : null,
    why: explainItem(row, weighed, new Map(sources.map((s) => [s.id, s.name]))).words,
    asked: (await openProposals(ctx, { item })).proposals,
    /** The strongest first. */
    choices: [...levels].map(([id, l]) => ({
      id,
      name: l.name,
      lowered: l.lowered,
      rank: weighed.ranks.get(id) ?? 0,
    })),
  };
}
