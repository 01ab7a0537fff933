import { z } from 'zod';
import { replaceOnToday, type NewItem } from '../../desk/today.ts';
import { StageColumn } from '../../rules/stage-column.ts';
import { Count, Instant } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import type { Context } from '../../context.ts';
import { NOTICE_OF_SITE } from './notice-of-site.ts';
import { sitePlace } from './site-place.ts';

const Row = z.object({
  id: z.number(),
  host: z.string(),
  stage: StageColumn,
  sweep: z.number().nullable(),
  matters: z.string().nullable(),
  unseen: Count,
  swept_at: Instant.nullable(),
  trackers: Count,
  unsorted: Count,
  leaks: Count,
});

/** Puts on Today what a site needs now, in the transaction of whatever changed about it. */
export async function showSiteOnToday(tx: Queries, siteId: number): Promise<void> {
  const site = await tx.one(
    Row,
    `SELECT site.id, site.host, n.stage, w.id AS sweep, w.matters, w.matters_seen_by IS NULL AS unseen, w.finished_at AS swept_at,
       (SELECT COUNT(*) FROM swept_tracker s WHERE s.sweep_id = w.id) AS trackers,
       (SELECT COUNT(*) FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id WHERE s.sweep_id = w.id AND t.purpose IS NULL) AS unsorted,
       (SELECT COUNT(*) FROM swept_tracker s WHERE s.sweep_id = w.id AND s.leaks <> 0) AS leaks
     FROM site JOIN ${NOTICE_OF_SITE('site')}
     LEFT JOIN sweep w ON w.id = (SELECT MAX(c.id) FROM sweep c WHERE c.site_id = site.id AND c.state IN ('complete', 'cancelled') AND c.pages > 0 AND c.finished_at IS NOT NULL)
     WHERE site.id = ?`,
    [siteId],
  );
  await replaceOnToday(tx, `site ${siteId}`, site ? itemsOf(site) : []);
}

function itemsOf(site: z.infer<typeof Row>): NewItem[] {
  if (site.swept_at === null) return [];
  const item = (kind: NewItem['kind'], words: string, detail: string, query: string): NewItem => ({
    kind,
    key: `site ${site.id}`,
    action: 'websites.read',
    words,
    detail,
    link: sitePlace(site.host, query),
    since: site.swept_at as string,
    within: [{ kind: 'site', id: String(site.id) }],
  });
  const items: NewItem[] = [];
  if (site.leaks > 0)
    items.push(
      item(
        'leak',
        `${site.leaks === 1 ? '1 tracker runs' : `${site.leaks} trackers run`} without permission on ${site.host}`,
        'Directive 2002/58/EC, art. 5(3)',
        '?show=leaks',
      ),
    );
  if (site.matters && site.unseen > 0)
    items.push({
      ...item(
        'change',
        `The sweep of ${site.host}: ${site.matters}`,
        'Look at what changed, and mark it as seen',
        `?tab=sweeps&sweep=${site.sweep}`,
      ),
      act: {
        ...{ words: 'Mark it as seen', done: 'It is marked as seen.', needs: 'websites.edit' },
        ...{ path: `/api/websites/${site.host}/sweeps/${site.sweep}/seen`, body: {} },
      },
    });
  if (site.unsorted > 0)
    items.push(
      item(
        'unsorted',
        `${site.unsorted === 1 ? '1 tracker has' : `${site.unsorted} trackers have`} no purpose on ${site.host}`,
        'Nobody has said what they are for',
        '?show=unsorted',
      ),
    );
  if (site.stage.state === 'draft' && site.trackers > 0)
    items.push(
      item('no notice', `${site.host} asks its visitors nothing`, 'Its notice is a draft', '?tab=notice'),
    );
  return items;
}

/** All sites anew: whatever Today says of them then is so. */
export async function showSitesOnToday(ctx: Context): Promise<void> {
  const sites = await ctx.store.all(z.object({ id: z.number() }), 'SELECT id FROM site ORDER BY id');
  for (const { id } of sites) await ctx.store.transaction((tx) => showSiteOnToday(tx, id));
}
