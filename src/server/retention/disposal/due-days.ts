import type { Day } from '../../../core/retention/clock/period.ts';
import type { Queries } from '../../store/pool.ts';
import { judgeItems } from '../items/item-retention.ts';
import type { RetentionWeighing } from '../weighing.ts';

/** The first day on which each of some items may go. */
export async function itemDays(
  store: Queries,
  weighing: RetentionWeighing,
  items: readonly number[],
): Promise<ReadonlyMap<number, Day>> {
  const found = new Map<number, Day>();
  for (let from = 0; from < items.length; from += 500)
    for (const [id, { verdict }] of await judgeItems(store, weighing, items.slice(from, from + 500)))
      if (verdict.goes !== null) found.set(id, verdict.goes);
  return found;
}
