import { z } from 'zod';
import type { Account } from '../../core/accounts/authority.ts';
import { builtInDetectors } from '../../core/holdings/detection/library/library.ts';
import { EVERYTHING } from '../../core/lens/lens.ts';
import { keepToScope } from '../accounts/scope-condition.ts';
import type { Context } from '../context.ts';
import { Count } from '../store/columns.ts';
import { Where } from '../store/where.ts';
import { countItems } from './items/explorer.ts';

/** How many there are of each kind of object in Holdings, of those that an account may see. */
export interface ShelfCounts {
  readonly items: number;
  readonly systems: number;
  readonly sources: number;
  readonly surveys: number;
  readonly detectors: number;
  readonly activities: number;
  readonly sets: number;
}

const Row = z.object({
  systems: Count,
  sources: Count,
  surveys: Count,
  detectors: Count,
  activities: Count,
  sets: Count,
});

export async function shelfCounts(ctx: Context, account: Account): Promise<ShelfCounts> {
  const mine = keepToScope(new Where(), account, 'source', 'id');
  const [counts, items] = await Promise.all([
    ctx.store.one(
      Row,
      `SELECT (SELECT COUNT(*) FROM data_system) AS systems, (SELECT COUNT(*) FROM source WHERE ${mine.sql}) AS sources,
         (SELECT COUNT(*) FROM survey) AS surveys, (SELECT COUNT(*) FROM detector) AS detectors,
         (SELECT COUNT(*) FROM activity) AS activities, (SELECT COUNT(*) FROM labelled_set) AS sets`,
      mine.params,
    ),
    countItems(ctx, account, EVERYTHING),
  ]);
  const known = counts ?? { systems: 0, sources: 0, surveys: 0, detectors: 0, activities: 0, sets: 0 };
  return { ...known, detectors: known.detectors + builtInDetectors().length, items };
}
