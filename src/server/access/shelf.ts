import { z } from 'zod';
import type { Context } from '../context.ts';
import { Count } from '../store/columns.ts';
import { lastRound } from './breadth/find-breadth.ts';
import { askAccess } from './index/ask-access.ts';
import type { EstateCounts } from './index/estate-counts.ts';

/** How many there are of each kind of object in Access. */
export interface AccessShelf {
  readonly estate: EstateCounts;
  readonly changes: number;
  readonly reviews: number;
  readonly broad: number;
  readonly sources: number;
  readonly hands: number;
  /** When a directory was read last. */
  readonly directoryRead: string | null;
}

export async function accessShelf(ctx: Context): Promise<AccessShelf> {
  const row = await ctx.store.one(
    z.object({ changes: Count, reviews: Count, sources: Count, hands: Count, read: z.string().nullable() }),
    `SELECT (SELECT COUNT(*) FROM access_change WHERE state <> 'dropped') AS changes,
       (SELECT COUNT(*) FROM access_review WHERE state = 'open') AS reviews,
       (SELECT COUNT(*) FROM access_source WHERE removed_at IS NULL) AS sources,
       (SELECT COUNT(*) FROM access_hands_rule) AS hands,
       (SELECT MAX(read_at) FROM access_source WHERE removed_at IS NULL AND kind IN ('staff list', 'scim', 'ldap')) AS \`read\``,
  );
  const round = await lastRound(ctx.store);
  return {
    estate: await askAccess(ctx, 'counts', {}),
    ...{ changes: row?.changes ?? 0, reviews: row?.reviews ?? 0, sources: row?.sources ?? 0 },
    hands: row?.hands ?? 0,
    broad: round?.counts['marks'] ?? 0,
    directoryRead: row?.read ? `${row.read.replace(' ', 'T')}Z` : null,
  };
}
