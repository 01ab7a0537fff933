import { z } from 'zod';
import { group } from 'd3-array';
import { Bitmap } from '../../../core/lens/bitmap.ts';
import { BigId } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

/** Items whose owner said no to the level that a rule proposes, by the rule. */
export async function declinedItems(
  store: Queries,
  rules: readonly { readonly id: string; readonly level: string }[],
): Promise<ReadonlyMap<string, Bitmap>> {
  const rows = await store.all(
    z.object({ rule: z.string(), level: z.string(), item: BigId.transform(Number) }),
    "SELECT rule_id AS rule, level, item_id AS item FROM level_proposal WHERE state = 'declined' ORDER BY item_id",
  );
  const meant = rows.filter((r) => rules.some((x) => x.id === r.rule && x.level === r.level));
  return new Map(
    [...group(meant, (r) => r.rule)].map(([rule, of]) => [rule, Bitmap.of(of.map((r) => r.item))]),
  );
}
