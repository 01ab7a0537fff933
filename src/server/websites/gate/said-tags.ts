import { z } from 'zod';
import { TagPlan, type TagKey } from '../../../core/websites/gate/tag.ts';
import { Flag, Instant, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const Row = z.object({
  host: z.string(),
  name: z.string(),
  content: JsonColumn(TagPlan),
  by_hand: Flag,
  edited_by: z.string().nullable(),
  edited_at: Instant,
});

export interface SaidTag extends TagKey {
  readonly plan: TagPlan;
  readonly byHand: boolean;
  readonly by: string | null;
  readonly since: string;
}

/** What somebody said of the tags of a site. */
export async function saidTags(store: Queries, siteId: number): Promise<readonly SaidTag[]> {
  const rows = await store.all(
    Row,
    'SELECT t.host, t.name, t.content, t.by_hand, a.name AS edited_by, t.edited_at FROM tag t LEFT JOIN account a ON a.id = t.edited_by WHERE t.site_id = ? ORDER BY t.host, t.name',
    [siteId],
  );
  return rows.map((r) => ({
    ...{ host: r.host, name: r.name, plan: r.content, byHand: r.by_hand },
    ...{ by: r.edited_by, since: r.edited_at },
  }));
}
