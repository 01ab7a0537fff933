import { z } from 'zod';
import { ACTIONS, may, type Account } from '../../core/accounts/authority.ts';
import { maySeeJob } from '../jobs/job-authority.ts';
import { BigId, Instant } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { TOLD_KINDS, type ToldKind } from './told-item.ts';
import { listSites } from '../websites/sites/sites.ts';

/** Something that needs a hand now, with where to go for it. */
export interface TodayItem {
  readonly key: string;
  readonly kind: 'leak' | 'unsorted' | 'failure' | 'no notice' | 'change';
  readonly words: string;
  readonly detail: string;
  readonly link: string;
  readonly since: string | null;
  /** Names it where somebody has to say that it was seen to; items that end by themselves have none. */
  readonly dismiss?: { readonly kind: ToldKind; readonly key: string };
}

const FAILED_WITHIN = '7 DAY';

/** What the account may know of: leaks first, then failures, then what waits for a decision. */
export async function todayItems(store: Queries, account: Account): Promise<TodayItem[]> {
  const told = await toldItems(store, account);
  const failed = await failures(store, account);
  if (!may(account, 'websites.read')) return [...told, ...failed];
  const sites = await listSites(store);
  const changed = await store.all(
    z.object({ id: z.number(), host: z.string(), matters: z.string(), finished_at: Instant }),
    `SELECT w.id, site.host, w.matters, w.finished_at FROM sweep w JOIN site ON site.id = w.site_id
     WHERE w.matters <> '' AND w.matters_seen_by IS NULL AND w.finished_at IS NOT NULL
       AND w.id = (SELECT MAX(id) FROM sweep n WHERE n.site_id = w.site_id AND n.state IN ('complete', 'cancelled') AND n.pages > 0)
     ORDER BY w.id DESC`,
  );
  const at = (host: string, query: string) => `/websites/${encodeURIComponent(host)}${query}`;
  return [
    ...told,
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
    ...failed,
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

async function failures(store: Queries, account: Account): Promise<TodayItem[]> {
  const failed = await store.all(
    z.object({
      id: BigId,
      kind: z.string(),
      title: z.string(),
      error: z.string().nullable(),
      link: z.string().nullable(),
      finished_at: Instant,
    }),
    `SELECT j.id, j.kind, j.title, j.error, j.link, j.finished_at FROM job j
     WHERE j.state = 'failed' AND j.finished_at > UTC_TIMESTAMP(3) - INTERVAL ${FAILED_WITHIN}
       AND NOT EXISTS (SELECT 1 FROM job later WHERE later.kind = j.kind AND later.title = j.title AND later.id > j.id AND later.state = 'done')
     ORDER BY j.id DESC LIMIT 20`,
  );
  return failed
    .filter((j) => maySeeJob(account, j.kind))
    .map((j): TodayItem => ({
      key: `job ${j.id}`,
      kind: 'failure',
      words: `${j.title} failed`,
      detail: j.error ?? '',
      link: j.link ?? '/today',
      since: j.finished_at,
    }));
}

/** Items that were written down as they came up. */
async function toldItems(store: Queries, account: Account): Promise<TodayItem[]> {
  const actions = ACTIONS.filter((a) => may(account, a));
  const rows = await store.all(
    z.object({
      kind: z.enum(TOLD_KINDS),
      item_key: z.string(),
      words: z.string(),
      detail: z.string(),
      link: z.string(),
      since: Instant,
    }),
    'SELECT kind, item_key, words, detail, link, since FROM today_item WHERE action IN (?) ORDER BY since DESC LIMIT 50',
    [actions],
  );
  return rows.map(({ kind, item_key, ...rest }): TodayItem => ({
    ...rest,
    key: `${kind} ${item_key}`,
    kind: 'failure',
    dismiss: { kind, key: item_key },
  }));
}
