import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import { change, inWords, type Json } from '../../core/change.ts';
import { versionInForce, type Stage } from '../../core/rule.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { Count, Instant, JsonColumn, toDatetime } from '../store/columns.ts';
import { isDuplicate, type Queries } from '../store/pool.ts';
import { firstNotice } from '../../core/websites/notice.ts';
import { choiceOf, VISITORS } from '../../core/websites/visitor.ts';
import { StageColumn } from './stage-column.ts';
import { checkSite } from './site-check.ts';

export const InstallResult = z.object({
  at: z.string(),
  steps: z.array(z.object({ met: z.boolean(), words: z.string(), fix: z.string() })),
});
export type InstallResult = z.infer<typeof InstallResult>;

const SiteRow = z.object({
  id: z.number(),
  host: z.string(),
  start_url: z.string(),
  name: z.string(),
  site_key: z.string(),
  max_pages: z.number(),
  max_minutes: z.number(),
  install: JsonColumn(InstallResult.nullable()),
  created_at: Instant,
});
export type Site = z.infer<typeof SiteRow>;
const COLUMNS = 'id, host, start_url, name, site_key, max_pages, max_minutes, install, created_at';

/** Throws a RefusedError (404). */
export async function findSite(store: Queries, host: string): Promise<Site> {
  const site = await store.one(SiteRow, `SELECT ${COLUMNS} FROM site WHERE host = ?`, [host.toLowerCase()]);
  if (!site) throw notFound('site');
  return site;
}

export async function findSiteById(store: Queries, id: number): Promise<Site> {
  const site = await store.one(SiteRow, `SELECT ${COLUMNS} FROM site WHERE id = ?`, [id]);
  if (!site) throw notFound('site');
  return site;
}

/** What the register shows of a site. */
export interface ListedSite {
  readonly host: string;
  readonly name: string;
  readonly stage: Stage;
  readonly leaks: number;
  readonly unsorted: number;
  readonly trackers: number;
  readonly pages: number;
  readonly sweptAt: string | null;
  readonly sweeping: boolean;
}

const ListedRow = z.object({
  host: z.string(),
  name: z.string(),
  stage: StageColumn,
  leaks: Count,
  unsorted: Count,
  trackers: Count,
  pages: Count,
  swept_at: Instant.nullable(),
  sweeping: Count,
});

/** Bits of the visitors who allowed nothing. */
const WITHOUT_PERMISSION = VISITORS.reduce(
  (bits, v, i) => (choiceOf(v) === 'accept' ? bits : bits | (1 << i)),
  0,
);

/** The leak of a tracker row `t` of purpose `p`, seen as `s`: not essential, and seen by a visitor who allowed nothing. */
export const LEAKS_SQL = `(t.purpose IS NOT NULL AND p.essential = 0 AND (s.seen & ${WITHOUT_PERMISSION}) <> 0)`;

export async function listSites(store: Queries): Promise<ListedSite[]> {
  const rows = await store.all(
    ListedRow,
    `SELECT site.host, site.name, n.stage, l.leaks, l.unsorted, l.trackers, w.pages, w.finished_at AS swept_at,
       (SELECT COUNT(*) FROM sweep r WHERE r.site_id = site.id AND r.state IN ('waiting', 'running')) AS sweeping
     FROM site JOIN notice n ON n.site_id = site.id
     LEFT JOIN sweep w ON w.id = (SELECT MAX(id) FROM sweep c WHERE c.site_id = site.id AND c.state IN ('complete', 'cancelled') AND c.pages > 0)
     LEFT JOIN (SELECT s.sweep_id, COUNT(*) AS trackers, SUM(t.purpose IS NULL) AS unsorted, SUM(${LEAKS_SQL}) AS leaks
       FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id LEFT JOIN purpose p ON p.code = t.purpose
       WHERE s.sweep_id IN (SELECT MAX(id) FROM sweep c WHERE c.state IN ('complete', 'cancelled') AND c.pages > 0 GROUP BY c.site_id)
       GROUP BY s.sweep_id) l ON l.sweep_id = w.id
     ORDER BY site.id`,
  );
  return rows.map(({ swept_at, sweeping, ...row }) => ({
    ...row,
    sweptAt: swept_at,
    sweeping: sweeping > 0,
  }));
}

/**
 * Takes a site into the program after checking its address, with a draft notice that is ready to be put in force.
 * Throws a RefusedError naming the field when the address will not do or the site is there already.
 */
export async function addSite(
  ctx: Context,
  accountId: number,
  address: string,
  name: string,
): Promise<{ host: string; redirects: readonly string[] }> {
  const check = await checkSite(address, ctx.settings);
  if (!check.ok)
    throw new RefusedError('This site cannot be taken in yet.', [
      { field: 'address', message: `${check.why} ${check.fix}` },
    ]);
  await ctx.store.transaction((tx) =>
    insertSite(tx, ctx.now(), {
      host: check.host,
      startUrl: check.url,
      name: name || check.title || check.host,
      by: accountId,
    }),
  );
  return { host: check.host, redirects: check.redirects };
}

export interface NewSite {
  readonly host: string;
  readonly startUrl: string;
  readonly name: string;
  readonly by: number | null;
}

export async function insertSite(
  tx: Queries,
  now: Date,
  site: NewSite,
): Promise<{ id: number; siteKey: string }> {
  const siteKey = randomBytes(10).toString('hex');
  try {
    const { id } = await tx.run(
      'INSERT INTO site (host, start_url, name, site_key, created_at, created_by) VALUES (?, ?, ?, ?, ?, ?)',
      [site.host, site.startUrl, site.name.slice(0, 120), siteKey, toDatetime(now), site.by],
    );
    const draft: Stage = { state: 'draft' };
    await tx.run(
      'INSERT INTO notice (site_id, content, revision, stage, edited_by, edited_at) VALUES (?, ?, 1, ?, ?, ?)',
      [id, JSON.stringify(firstNotice()), JSON.stringify(draft), site.by, toDatetime(now)],
    );
    await record(tx, now, {
      actor: site.by ?? 'system',
      action: 'site.add',
      object: 'site',
      objectId: id,
      detail: { host: site.host },
    });
    return { id, siteKey };
  } catch (error) {
    if (isDuplicate(error))
      throw new RefusedError(
        `${site.host} is in the program already.`,
        [{ field: 'address', message: 'Find it in the list on the left.' }],
        409,
      );
    throw error;
  }
}

export const SiteEdit = z.object({
  name: z.string().trim().min(1, 'Give the site a name').max(120, 'At most 120 characters').optional(),
  maxPages: z.int().min(1, 'At least 1 page').max(5000, 'At most 5,000 pages').optional(),
  maxMinutes: z.int().min(1, 'At least 1 minute').max(240, 'At most 240 minutes').optional(),
});

/** Changes a site’s name or the limits of its sweeps; what is not given stays. */
export async function editSite(
  ctx: Context,
  accountId: number,
  host: string,
  edit: z.infer<typeof SiteEdit>,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host);
    const before = { name: site.name, maxPages: site.max_pages, maxMinutes: site.max_minutes };
    const after = {
      name: edit.name ?? before.name,
      maxPages: edit.maxPages ?? before.maxPages,
      maxMinutes: edit.maxMinutes ?? before.maxMinutes,
    };
    const difference = change(before, after);
    if (difference.length === 0) return;
    await tx.run('UPDATE site SET name = ?, max_pages = ?, max_minutes = ? WHERE id = ?', [
      after.name,
      after.maxPages,
      after.maxMinutes,
      site.id,
    ]);
    const words = inWords(difference, { path: ([key]) => EDIT_WORDS[key as keyof typeof EDIT_WORDS] });
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'site.edit',
      object: 'site',
      objectId: site.id,
      detail: { words: [...words], change: difference as unknown as Json },
    });
  });
}

const EDIT_WORDS = {
  name: 'Name',
  maxPages: 'Most pages of a sweep',
  maxMinutes: 'Most minutes of a sweep',
} as const;

/** How many notices are in force and rehearsing: for the strip. */
export async function countStages(store: Queries): Promise<{ inForce: number; rehearsing: number }> {
  const rows = await store.all(z.object({ stage: StageColumn }), 'SELECT stage FROM notice');
  return {
    inForce: rows.filter((r) => versionInForce(r.stage) !== undefined).length,
    rehearsing: rows.filter((r) => r.stage.state === 'rehearsing').length,
  };
}
