import { z } from 'zod';
import { Instant } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { listSites } from '../websites/sites.ts';

/** Something that needs a hand now, with where to go for it. */
export interface TodayItem {
  readonly key: string;
  readonly kind: 'leak' | 'unsorted' | 'failure' | 'no notice' | 'change';
  readonly words: string;
  readonly detail: string;
  readonly link: string;
  readonly since: string | null;
}

const FAILED_WITHIN = '7 DAY';

/** Leaks first, then failures, then what waits for a decision. */
export async function todayItems(store: Queries): Promise<TodayItem[]> {
  const sites = await listSites(store);
  const failed = await store.all(
    z.object({
      id: z.union([z.string(), z.number()]).transform(String),
      title: z.string(),
      error: z.string().nullable(),
      link: z.string().nullable(),
      finished_at: Instant,
    }),
    `SELECT j.id, j.title, j.error, j.link, j.finished_at FROM job j
     WHERE j.state = 'failed' AND j.finished_at > UTC_TIMESTAMP(3) - INTERVAL ${FAILED_WITHIN}
       AND NOT EXISTS (SELECT 1 FROM job later WHERE later.kind = j.kind AND later.title = j.title AND later.id > j.id AND later.state = 'done')
     ORDER BY j.id DESC LIMIT 20`,
  );
  const changed = await store.all(
    z.object({ id: z.number(), host: z.string(), matters: z.string(), finished_at: Instant }),
    `SELECT w.id, site.host, w.matters, w.finished_at FROM sweep w JOIN site ON site.id = w.site_id
     WHERE w.matters <> '' AND w.matters_seen_by IS NULL AND w.finished_at IS NOT NULL
       AND w.id = (SELECT MAX(id) FROM sweep n WHERE n.site_id = w.site_id AND n.state IN ('complete', 'cancelled') AND n.pages > 0)
     ORDER BY w.id DESC`,
  );
  const at = (host: string, query: string) => `/websites/${encodeURIComponent(host)}${query}`;
  return [
    ...sites
      .filter((s) => s.leaks > 0)
      .map((s): TodayItem => ({
        key: `leak ${s.host}`,
        kind: 'leak',
        words: `${s.leaks === 1 ? '1 tracker runs' : `${s.leaks} trackers run`} without permission on ${s.host}`,
        detail: 'Directive 2002/58/EC, art. 5(3)',
        link: at(s.host, '?show=leaks'),
        since: s.sweptAt,
      })),
    ...changed.map((w): TodayItem => ({
      key: `sweep ${w.id}`,
      kind: 'change',
      words: `The sweep of ${w.host}: ${w.matters}`,
      detail: 'Look at what changed, and mark it as seen',
      link: at(w.host, `?tab=sweeps&sweep=${w.id}`),
      since: w.finished_at,
    })),
    ...failed.map((j): TodayItem => ({
      key: `job ${j.id}`,
      kind: 'failure',
      words: `${j.title} failed`,
      detail: j.error ?? '',
      link: j.link ?? '/today',
      since: j.finished_at,
    })),
    ...sites
      .filter((s) => s.unsorted > 0)
      .map((s): TodayItem => ({
        key: `unsorted ${s.host}`,
        kind: 'unsorted',
        words: `${s.unsorted === 1 ? '1 tracker has' : `${s.unsorted} trackers have`} no purpose on ${s.host}`,
        detail: 'Nobody has said what they are for',
        link: at(s.host, '?show=unsorted'),
        since: s.sweptAt,
      })),
    ...sites
      .filter((s) => s.stage.state === 'draft' && s.trackers > 0)
      .map((s): TodayItem => ({
        key: `notice ${s.host}`,
        kind: 'no notice',
        words: `${s.host} asks its visitors nothing`,
        detail: 'Its notice is a draft',
        link: at(s.host, '?tab=notice'),
        since: null,
      })),
  ];
}
