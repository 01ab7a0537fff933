import { createHash } from 'node:crypto';
import { z } from 'zod';
import { notFound, RefusedError } from '../../core/refusal.ts';
import { leakingVisitors } from '../../core/websites/leak.ts';
import { propose } from '../../core/websites/proposal.ts';
import type { Purpose } from '../../core/websites/purpose.ts';
import {
  sweepDifference,
  type SweepDifference,
  type SweptTracker,
} from '../../core/websites/sweep-difference.ts';
import {
  trackerKey,
  TRACKER_KINDS,
  type ObservedTracker,
  type Sighting,
} from '../../core/websites/tracker.ts';
import { VISITORS, type Visitor } from '../../core/websites/visitor.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { addJob } from '../jobs/job.ts';
import { Instant, JsonColumn, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { listPurposes } from './purposes.ts';
import { findSite, SiteEdit } from './sites.ts';
import type { CrawlResult } from './sweep/crawl.ts';

export const SWEEP_STATES = ['waiting', 'running', 'complete', 'cancelled', 'failed'] as const;

/** Something out of the ordinary, told once a sweep. */
const Note = z.object({ visitor: z.enum(VISITORS).nullable(), words: z.string() });
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
  max_pages: z.number(),
  max_seconds: z.number(),
  pages: z.number(),
  trackers: z.number(),
  notes: JsonColumn(z.array(Note)),
  created_at: Instant,
  started_at: Instant.nullable(),
  finished_at: Instant.nullable(),
  started_by: z.string().nullable(),
});
export type Sweep = z.infer<typeof SweepRow>;
const SELECT =
  'SELECT w.id, w.site_id, w.job_id, w.state, w.visitors, w.max_pages, w.max_seconds, w.pages, w.trackers, w.notes, w.created_at, w.started_at, w.finished_at, a.name AS started_by FROM sweep w LEFT JOIN account a ON a.id = w.started_by';

/** Limits of one sweep; without them the site's own hold. */
export const SweepLimits = z.object({
  maxPages: SiteEdit.shape.maxPages,
  maxMinutes: SiteEdit.shape.maxMinutes,
});

/** Queues a sweep. Throws a RefusedError (409) while one of this site waits or runs. */
export async function startSweep(
  ctx: Context,
  accountId: number,
  host: string,
  limits: z.infer<typeof SweepLimits>,
): Promise<{ sweep: number; job: string }> {
  return ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host);
    // The site's row is the turn: two people starting at once get one sweep.
    await tx.all(z.object({ id: z.number() }), 'SELECT id FROM site WHERE id = ? FOR UPDATE', [site.id]);
    const open = await tx.one(
      z.object({ id: z.number() }),
      "SELECT id FROM sweep WHERE site_id = ? AND state IN ('waiting', 'running') LIMIT 1",
      [site.id],
    );
    if (open) throw new RefusedError(`${host} is being swept already.`, [], 409);
    const now = ctx.now();
    const maxPages = limits.maxPages ?? site.max_pages;
    const maxMinutes = limits.maxMinutes ?? site.max_minutes;
    const { id } = await tx.run(
      "INSERT INTO sweep (site_id, state, visitors, max_pages, max_seconds, notes, started_by, created_at) VALUES (?, 'waiting', ?, ?, ?, '[]', ?, ?)",
      [site.id, JSON.stringify(VISITORS), maxPages, maxMinutes * 60, accountId, toDatetime(now)],
    );
    const job = await addJob(tx, now, {
      kind: 'sweep',
      title: `Sweep of ${host}`,
      payload: { sweep: id },
      createdBy: accountId,
      link: `/websites/${host}`,
    });
    await tx.run('UPDATE sweep SET job_id = ? WHERE id = ?', [job, id]);
    await record(tx, now, {
      actor: accountId,
      action: 'sweep.start',
      object: 'sweep',
      objectId: id,
      detail: { site: site.id, maxPages, maxMinutes },
    });
    return { sweep: id, job };
  });
}

export async function findSweep(store: Queries, id: number): Promise<Sweep> {
  const sweep = await store.one(SweepRow, `${SELECT} WHERE w.id = ?`, [id]);
  if (!sweep) throw notFound('sweep');
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
    z.object({ visitor: z.enum(VISITORS), url: z.string() }),
    'SELECT visitor, url FROM sweep_page WHERE sweep_id = ? ORDER BY visitor, number',
    [id],
  );
  const visitors = [...new Set(rows.map((r) => r.visitor))];
  return { visitors, pages: rows.filter((r) => r.visitor === 'before').map((r) => r.url) };
}

/** Stores what one visitor found, whole or not at all. */
export async function storeCrawl(ctx: Context, sweep: Sweep, result: CrawlResult): Promise<void> {
  const now = toDatetime(ctx.now());
  await ctx.store.transaction(async (tx) => {
    await tx.run('DELETE FROM sweep_page WHERE sweep_id = ? AND visitor = ?', [sweep.id, result.visitor]);
    const pages = result.pages.map((p, i) => [
      sweep.id,
      result.visitor,
      i,
      p.url.slice(0, 2000),
      p.status,
      p.note.slice(0, 300),
    ]);
    for (const part of chunks(pages, 500))
      await tx.run('INSERT INTO sweep_page (sweep_id, visitor, number, url, status, note) VALUES ?', [part]);
    for (const part of chunks(result.sightings, 500)) await storeSightings(tx, sweep, now, part);
    const notes = [
      ...result.notes.map((words): SweepNote => ({ visitor: result.visitor, words })),
      ...(result.couldChoose
        ? []
        : [
            {
              visitor: result.visitor,
              words: 'Found no notice to answer, so this visitor could not be tried.',
            } satisfies SweepNote,
          ]),
    ];
    await tx.run(
      `UPDATE sweep SET notes = JSON_MERGE_PRESERVE(notes, ?), trackers = (SELECT COUNT(*) FROM swept_tracker WHERE sweep_id = ?),
         pages = (SELECT COUNT(DISTINCT url) FROM sweep_page WHERE sweep_id = ?) WHERE id = ?`,
      [JSON.stringify(notes), sweep.id, sweep.id, sweep.id],
    );
  });
}

async function storeSightings(
  tx: Queries,
  sweep: Sweep,
  now: string,
  part: CrawlResult['sightings'],
): Promise<void> {
  const keyed = part.map((t) => ({
    ...t,
    name: t.name.slice(0, 300),
    host: t.host.slice(0, 260),
    identity: createHash('sha256').update(trackerKey(t)).digest(),
  }));
  await tx.run(
    'INSERT INTO tracker (site_id, identity, kind, name, host, proposal, first_seen, last_seen) VALUES ? ON DUPLICATE KEY UPDATE last_seen = VALUES(last_seen)',
    [
      keyed.map((t) => [
        sweep.site_id,
        t.identity,
        t.kind,
        t.name,
        t.host,
        '{"purpose":null,"confidence":0,"reasons":[]}',
        now,
        now,
      ]),
    ],
  );
  const ids = await tx.all(
    z.object({ id: z.number(), identity: z.instanceof(Buffer) }),
    'SELECT id, identity FROM tracker WHERE site_id = ? AND identity IN (?)',
    [sweep.site_id, keyed.map((t) => t.identity)],
  );
  const idOf = new Map(ids.map((r) => [r.identity.toString('hex'), r.id]));
  const rows = keyed.map((t) => ({ ...t.sighting, id: idOf.get(t.identity.toString('hex')) as number }));
  await tx.run(
    `INSERT INTO swept_tracker (sweep_id, tracker_id, seen, party, lifetime, pages) VALUES ?
     ON DUPLICATE KEY UPDATE seen = seen | VALUES(seen), lifetime = GREATEST(COALESCE(lifetime, VALUES(lifetime)), COALESCE(VALUES(lifetime), lifetime)), pages = GREATEST(pages, VALUES(pages))`,
    [rows.map((s) => [sweep.id, s.id, 1 << VISITORS.indexOf(s.visitor), s.party, s.lifetime, s.pages])],
  );
  await tx.run(
    `INSERT INTO sighting (sweep_id, tracker_id, visitor, pages, first_page, party, lifetime, set_by, value_length, value_bits, cause, resource) VALUES ?
     ON DUPLICATE KEY UPDATE pages = VALUES(pages)`,
    [
      rows.map((s) => [
        sweep.id,
        s.id,
        s.visitor,
        s.pages,
        s.firstPage.slice(0, 2000),
        s.party,
        s.lifetime,
        s.setBy,
        s.valueLength,
        s.valueBits,
        JSON.stringify(s.cause),
        s.resource.slice(0, 30),
      ]),
    ],
  );
}

/** Proposes purposes for what the sweep saw, ends it, and writes the outcome to the ledger. */
export async function endSweep(
  ctx: Context,
  id: number,
  state: 'complete' | 'cancelled' | 'failed',
  words?: string,
): Promise<void> {
  const purposes = await listPurposes(ctx.store);
  const own = { host: new URL(ctx.settings.VISITOR_ORIGIN).hostname };
  await ctx.store.transaction(async (tx) => {
    const sweep = await findSweep(tx, id);
    for (const part of chunks(await observed(tx, id), 300))
      for (const { trackerId, tracker } of part) {
        const proposal = propose(tracker, own);
        const known = purposes.some((p) => p.code === proposal.purpose);
        await tx.run('UPDATE tracker SET proposed = ?, proposal = ? WHERE id = ?', [
          known ? proposal.purpose : null,
          JSON.stringify(proposal),
          trackerId,
        ]);
      }
    const notes = words ? [{ visitor: null, words }] : [];
    await tx.run(
      'UPDATE sweep SET state = ?, finished_at = ?, notes = JSON_MERGE_PRESERVE(notes, ?) WHERE id = ?',
      [state, toDatetime(ctx.now()), JSON.stringify(notes), id],
    );
    const leaks = (await sweptTrackers(tx, id, purposes)).filter((t) => t.leaks.length > 0).length;
    await record(tx, ctx.now(), {
      actor: 'worker',
      action: 'sweep.end',
      object: 'sweep',
      objectId: id,
      detail: { state, site: sweep.site_id, pages: sweep.pages, trackers: sweep.trackers, leaks },
    });
  });
}

const SightingRow = z.object({
  tracker_id: z.number(),
  kind: z.enum(TRACKER_KINDS),
  name: z.string(),
  host: z.string(),
  visitor: z.enum(VISITORS),
  pages: z.number(),
  first_page: z.string(),
  party: z.enum(['first', 'third']),
  lifetime: z.number().nullable(),
  set_by: z.enum(['http', 'script', 'page']),
  value_length: z.number(),
  value_bits: z.number(),
  cause: JsonColumn(
    z.array(
      z.object({
        what: z.enum(['page', 'script', 'frame', 'response']),
        url: z.string(),
        line: z.number().optional(),
      }),
    ),
  ),
  resource: z.string(),
});
const SIGHTING_SQL = `SELECT s.tracker_id, t.kind, t.name, t.host, s.visitor, s.pages, s.first_page, s.party, s.lifetime, s.set_by, s.value_length, s.value_bits, s.cause, s.resource
  FROM sighting s JOIN tracker t ON t.id = s.tracker_id WHERE s.sweep_id = ?`;

/** What the sweep saw, a tracker each; bounded by the collector's limit on kinds of trackers. */
async function observed(
  store: Queries,
  sweepId: number,
): Promise<{ trackerId: number; tracker: ObservedTracker }[]> {
  const byId = new Map<number, { trackerId: number; tracker: ObservedTracker & { sightings: Sighting[] } }>();
  for (const r of await store.all(SightingRow, `${SIGHTING_SQL} ORDER BY s.tracker_id`, [sweepId])) {
    const entry = byId.get(r.tracker_id) ?? {
      trackerId: r.tracker_id,
      tracker: { kind: r.kind, name: r.name, host: r.host, sightings: [] },
    };
    entry.tracker.sightings.push(toSighting(r));
    byId.set(r.tracker_id, entry);
  }
  return [...byId.values()];
}

export async function sightingsOf(store: Queries, sweepId: number, trackerId: number): Promise<Sighting[]> {
  const rows = await store.all(SightingRow, `${SIGHTING_SQL} AND s.tracker_id = ?`, [sweepId, trackerId]);
  return rows.map(toSighting);
}

function toSighting(r: z.infer<typeof SightingRow>): Sighting {
  return {
    visitor: r.visitor,
    pages: r.pages,
    firstPage: r.first_page,
    party: r.party,
    lifetime: r.lifetime,
    setBy: r.set_by,
    valueLength: r.value_length,
    valueBits: r.value_bits,
    cause: r.cause,
    resource: r.resource,
  };
}

/** Trackers of a sweep as the difference looks at them, with the purposes of today. */
async function sweptTrackers(
  store: Queries,
  sweepId: number,
  purposes: readonly Purpose[],
): Promise<SweptTracker[]> {
  const rows = await store.all(
    z.object({
      id: z.number(),
      kind: z.enum(TRACKER_KINDS),
      name: z.string(),
      host: z.string(),
      purpose: z.string().nullable(),
      lifetime: z.number().nullable(),
      seen: z.number(),
    }),
    'SELECT t.id, t.kind, t.name, t.host, t.purpose, s.lifetime, s.seen FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id WHERE s.sweep_id = ? ORDER BY t.host, t.name, t.id',
    [sweepId],
  );
  return rows.map(({ kind, name, host, purpose, lifetime, seen }) => {
    const visitors = VISITORS.filter((_, i) => seen & (1 << i));
    const leaks = leakingVisitors(
      purposes.find((p) => p.code === purpose) ?? null,
      visitors.map((visitor) => ({ visitor }) as Sighting),
    );
    return { kind, name, host, purpose, lifetime, leaks };
  });
}

/** `undefined` with fewer than two sweeps. */
export async function differenceSinceLast(
  store: Queries,
  siteId: number,
): Promise<{ since: string; difference: SweepDifference } | undefined> {
  const [now, before] = await latestSweeps(store, siteId);
  if (!now || !before) return undefined;
  const purposes = await listPurposes(store);
  const difference = sweepDifference(
    await sweptTrackers(store, before.id, purposes),
    await sweptTrackers(store, now.id, purposes),
  );
  return { since: before.finished_at ?? before.created_at, difference };
}

const PageRow = z.object({
  visitor: z.enum(VISITORS),
  url: z.string(),
  status: z.number().nullable(),
  note: z.string(),
});

/** Pages of a sweep that something was the matter with. */
export async function troubledPages(store: Queries, sweepId: number): Promise<z.infer<typeof PageRow>[]> {
  return store.all(
    PageRow,
    "SELECT visitor, url, status, note FROM sweep_page WHERE sweep_id = ? AND note <> '' ORDER BY visitor, number LIMIT 200",
    [sweepId],
  );
}

function* chunks<T>(list: readonly T[], size: number): Generator<readonly T[]> {
  for (let at = 0; at < list.length; at += size) yield list.slice(at, at + size);
}
