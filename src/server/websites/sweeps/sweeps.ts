import { z } from 'zod';
import { same } from '../../../core/rules/change.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { RegimeRow } from '../../../core/websites/notice/regime.ts';
import { REGION_PATTERN } from '../../../core/websites/notice/region.ts';
import { NoticeReading } from '../../../core/websites/reading/notice-reading.ts';
import { SwitchRun } from '../../../core/websites/reading/switch-run.ts';
import { Scope } from '../../../core/websites/sweeps/scope.ts';
import type { Terms } from '../../../core/websites/trackers/leak.ts';
import { VISITORS, type Visitor } from '../../../core/websites/trackers/visitor.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { addJob } from '../../jobs/job.ts';
import { Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { readRegime } from '../notices/regimes.ts';
import { showSiteOnToday } from '../sites/site-today.ts';
import { findSite, type Site } from '../sites/sites.ts';

export const SWEEP_STATES = ['waiting', 'running', 'complete', 'cancelled', 'failed'] as const;

/** Something out of the ordinary, told once a sweep. */
const Note = z.object({
  visitor: z.enum(VISITORS).nullable(),
  words: z.string(),
  /** The visitor found nothing to answer, so what it saw says nothing about its choice. */
  untried: z.boolean().optional(),
  /** Its time ended before all pages were seen. */
  incomplete: z.boolean().optional(),
});
export type SweepNote = z.infer<typeof Note>;

const SweepRow = z.object({
  id: z.number(),
  site_id: z.number(),
  job_id: z
    .union([z.number(), z.string()])
    .nullable()
    .transform((v) => (v === null ? null : String(v))),
  state: z.enum(SWEEP_STATES),
  visitors: JsonColumn(z.array(z.enum(VISITORS))),
  scope: JsonColumn(Scope),
  region: z.string(),
  regime: JsonColumn(RegimeRow.nullable()),
  chosen: JsonColumn(z.array(z.string())),
  origin: z.enum(['person', 'schedule']),
  operated: JsonColumn(z.partialRecord(z.enum(VISITORS), z.string().nullable())),
  pages: z.number(),
  trackers: z.number(),
  leaks: z.number(),
  matters: z.string(),
  matters_seen_by: z.number().nullable(),
  usual_pages: z.number().nullable(),
  notes: JsonColumn(z.array(Note)),
  reading: JsonColumn(NoticeReading.nullable()),
  switches: JsonColumn(z.array(SwitchRun)),
  created_at: Instant,
  started_at: Instant.nullable(),
  finished_at: Instant.nullable(),
  started_by: z.string().nullable(),
});
export type Sweep = z.infer<typeof SweepRow>;
const SELECT =
  'SELECT w.id, w.site_id, w.job_id, w.state, w.visitors, w.scope, w.region, w.regime, w.chosen, w.origin, w.operated, w.pages, w.trackers, w.leaks, w.matters, w.matters_seen_by, w.usual_pages, w.notes, w.reading, w.switches, w.created_at, w.started_at, w.finished_at, a.name AS started_by FROM sweep w LEFT JOIN account a ON a.id = w.started_by';

/** What differs from the site's own way of being swept, for one sweep. */
export const SweepWish = z.object({
  maxPages: Scope.shape.maxPages.unwrap().optional(),
  maxMinutes: Scope.shape.maxMinutes.unwrap().optional(),
  visitors: z.array(z.enum(VISITORS)).min(1, 'Choose at least one visitor').optional(),
  region: z.string().regex(REGION_PATTERN, 'A region such as DK or US-CA').optional(),
});
export type SweepWish = z.infer<typeof SweepWish>;

export function termsOf(sweep: Pick<Sweep, 'region' | 'regime' | 'chosen'>): Terms {
  return { region: sweep.region, regime: sweep.regime ?? undefined, chosen: sweep.chosen };
}

/** Queues a sweep. Throws a RefusedError (409) while one of this site waits or runs. */
export async function startSweep(
  ctx: Context,
  accountId: number,
  host: string,
  wish: SweepWish,
): Promise<{ sweep: number; job: string }> {
  return ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host);
    const queued = await queueSweep(tx, ctx.now(), site, accountId, wish);
    if (!queued) throw new RefusedError(`${host} is being swept already.`, [], 409);
    return queued;
  });
}

/** Queues a sweep in the caller's transaction; `by` is `null` for the schedule. `undefined` while one waits or runs. */
export async function queueSweep(
  tx: Queries,
  now: Date,
  site: Site,
  by: number | null,
  wish: SweepWish = {},
): Promise<{ sweep: number; job: string } | undefined> {
  // The site's row is the turn: two people starting at once get one sweep.
  await tx.all(z.object({ id: z.number() }), 'SELECT id FROM site WHERE id = ? FOR UPDATE', [site.id]);
  const open = await tx.one(
    z.object({ id: z.number() }),
    "SELECT w.id FROM sweep w JOIN job j ON j.id = w.job_id WHERE w.site_id = ? AND w.state IN ('waiting', 'running') AND j.state IN ('waiting', 'running') LIMIT 1",
    [site.id],
  );
  if (open) return undefined;
  const scope: Scope = {
    ...site.scope,
    maxPages: wish.maxPages ?? site.scope.maxPages,
    maxMinutes: wish.maxMinutes ?? site.scope.maxMinutes,
  };
  const visitors = VISITORS.filter((v) => !wish.visitors || wish.visitors.includes(v));
  const region = wish.region ?? site.region;
  const { id } = await tx.run(
    "INSERT INTO sweep (site_id, state, visitors, scope, region, regime, chosen, origin, notes, started_by, created_at) VALUES (?, 'waiting', ?, ?, ?, ?, ?, ?, '[]', ?, ?)",
    [
      site.id,
      JSON.stringify(visitors),
      JSON.stringify(scope),
      region,
      JSON.stringify(await readRegime(tx, region)),
      JSON.stringify(site.chosen),
      by === null ? 'schedule' : 'person',
      by,
      toDatetime(now),
    ],
  );
  const job = await addJob(tx, now, {
    kind: 'sweep',
    title: `Sweep of ${site.host}`,
    about: { object: 'site', id: site.id },
    within: [{ kind: 'site', id: String(site.id) }],
    payload: { sweep: id },
    createdBy: by,
    link: `/websites/${site.host}`,
    mostOpen: 60,
  });
  await tx.run('UPDATE sweep SET job_id = ? WHERE id = ?', [job, id]);
  await record(tx, now, {
    actor: by ?? 'system',
    action: 'sweep.start',
    object: 'sweep',
    objectId: id,
    detail: { site: site.id, maxPages: scope.maxPages, maxMinutes: scope.maxMinutes, region, visitors },
  });
  return { sweep: id, job };
}

export async function findSweep(store: Queries, id: number): Promise<Sweep> {
  const sweep = await store.one(SweepRow, `${SELECT} WHERE w.id = ?`, [id]);
  if (!sweep) throw notFound('sweep');
  return sweep;
}

/** A sweep of this very site; throws a RefusedError (404). */
export async function findSiteSweep(store: Queries, host: string, id: number): Promise<Sweep> {
  const site = await findSite(store, host);
  const sweep = await findSweep(store, id);
  if (sweep.site_id !== site.id) throw notFound('sweep');
  return sweep;
}

export async function listSweeps(store: Queries, siteId: number, most = 50): Promise<Sweep[]> {
  return store.all(SweepRow, `${SELECT} WHERE w.site_id = ? ORDER BY w.id DESC LIMIT ?`, [siteId, most]);
}

/** The newest sweep that found something, and the one before it. */
export async function latestSweeps(store: Queries, siteId: number): Promise<Sweep[]> {
  return store.all(
    SweepRow,
    `${SELECT} WHERE w.site_id = ? AND w.state IN ('complete', 'cancelled') AND w.pages > 0 ORDER BY w.id DESC LIMIT 2`,
    [siteId],
  );
}

/** The sweep that found something before this one. */
export async function sweepBefore(store: Queries, sweep: Sweep): Promise<Sweep | undefined> {
  return store.one(
    SweepRow,
    `${SELECT} WHERE w.site_id = ? AND w.id < ? AND w.state IN ('complete', 'cancelled') AND w.pages > 0 ORDER BY w.id DESC LIMIT 1`,
    [sweep.site_id, sweep.id],
  );
}

/**
 * Pages that complete sweeps of this site, going as far as this one, usually see: the median of the last five before.
 * `undefined` without one.
 */
export async function usualPages(store: Queries, sweep: Sweep): Promise<number | undefined> {
  const rows = await store.all(
    z.object({ pages: z.number(), scope: JsonColumn(Scope) }),
    "SELECT pages, scope FROM sweep WHERE site_id = ? AND id < ? AND state = 'complete' AND pages > 0 ORDER BY id DESC LIMIT 20",
    [sweep.site_id, sweep.id],
  );
  const alike = rows.filter((r) => same(r.scope, sweep.scope)).slice(0, 5);
  const sorted = alike.map((r) => r.pages).sort((a, b) => a - b);
  return sorted[Math.floor((sorted.length - 1) / 2)];
}

export async function beginSweep(ctx: Context, id: number): Promise<void> {
  await ctx.store.run(
    "UPDATE sweep SET state = 'running', started_at = COALESCE(started_at, ?) WHERE id = ?",
    [toDatetime(ctx.now()), id],
  );
}

/** Visitors whose part of the sweep is stored already: a worker that takes over skips them. */
export async function visitorsDone(
  store: Queries,
  id: number,
): Promise<{ visitors: Visitor[]; pages: string[] }> {
  const rows = await store.all(
    z.object({ visitor: z.enum(VISITORS), url: z.string(), status: z.number().nullable() }),
    'SELECT visitor, url, status FROM sweep_page WHERE sweep_id = ? ORDER BY visitor, number',
    [id],
  );
  const done = new Set(rows.map((r) => r.visitor));
  const visitors = VISITORS.filter((v) => done.has(v));
  const pages = rows.filter((r) => r.visitor === visitors[0] && r.status !== null && r.status < 400);
  return { visitors, pages: pages.map((r) => r.url) };
}

const PageRow = z.object({
  visitor: z.enum(VISITORS),
  url: z.string(),
  status: z.number().nullable(),
  note: z.string(),
});
export type StoredPage = z.infer<typeof PageRow>;

/** Pages of a sweep that something was the matter with. */
export async function troubledPages(store: Queries, sweepId: number): Promise<StoredPage[]> {
  return store.all(
    PageRow,
    "SELECT visitor, url, status, note FROM sweep_page WHERE sweep_id = ? AND note <> '' ORDER BY visitor, number LIMIT 200",
    [sweepId],
  );
}

/** At most some 25,000: five visitors of the most pages a sweep may have. */
export async function allPages(store: Queries, sweepId: number): Promise<StoredPage[]> {
  return store.all(
    PageRow,
    'SELECT visitor, url, status, note FROM sweep_page WHERE sweep_id = ? ORDER BY visitor, number',
    [sweepId],
  );
}

/** Takes what a sweep brought to Today off it. */
export async function markSeen(ctx: Context, accountId: number, host: string, id: number): Promise<void> {
  const sweep = await findSiteSweep(ctx.store, host, id);
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run(
      "UPDATE sweep SET matters_seen_by = ? WHERE id = ? AND matters <> '' AND matters_seen_by IS NULL",
      [accountId, sweep.id],
    );
    if (changed > 0)
      await record(tx, ctx.now(), {
        actor: accountId,
        action: 'sweep.seen',
        object: 'sweep',
        objectId: sweep.id,
        detail: { words: [sweep.matters] },
      });
    await showSiteOnToday(tx, sweep.site_id);
  });
}
