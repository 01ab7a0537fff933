import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';
import { z } from 'zod';
import type { EntryProof } from '../../../core/evidence/ledger.ts';
import { notFound } from '../../../core/refusal.ts';
import type { TrackerLibrary } from '../../../core/websites/trackers/known-tracker.ts';
import { proposeAll } from '../../../core/websites/trackers/proposal.ts';
import type { Purpose } from '../../../core/websites/notice/purpose.ts';
import {
  sweepDifference,
  whatMatters,
  type SweepDifference,
  type SweptTracker,
} from '../../../core/websites/sweeps/sweep-difference.ts';
import { reportDigest, sweepReport, type SweepReport } from '../../../core/websites/sweeps/sweep-report.ts';
import { TRACKER_KINDS } from '../../../core/websites/trackers/tracker.ts';
import { visitorBits, visitorsOf, type Visitor } from '../../../core/websites/trackers/visitor.ts';
import type { Context } from '../../context.ts';
import { proveEntry, record } from '../../evidence/ledger.ts';
import type { Witness } from '../../evidence/verify.ts';
import { BigId, Bytes, Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { updateMany } from '../../store/update-many.ts';
import { readLibrary } from '../library/known-trackers.ts';
import { listPurposes } from '../notices/purposes.ts';
import { ranWithIn } from '../trackers/ran-with.ts';
import { observedIn } from '../trackers/sightings.ts';
import { remakeGate } from '../gate/site-gate.ts';
import { findSiteById } from '../sites/sites.ts';
import { showSiteOnToday } from '../sites/site-today.ts';
import { allPages, findSweep, latestSweeps, sweepBefore, termsOf, usualPages, type Sweep } from './sweeps.ts';

export type SweepOutcome = 'complete' | 'cancelled' | 'failed';

/**
 * Ends a sweep in the caller's transaction: proposes purposes for what it saw, judges it, says what changed, seals its report, and writes the
 * outcome to the ledger. Ending it twice changes nothing.
 */
export async function endSweep(
  tx: Queries,
  ctx: Context,
  id: number,
  state: SweepOutcome,
  words?: string,
): Promise<void> {
  await tx.all(z.object({ id: z.number() }), 'SELECT id FROM sweep WHERE id = ? FOR UPDATE', [id]);
  const begun = await findSweep(tx, id);
  if (begun.finished_at !== null) return;
  const finishedAt = ctx.now();
  const notes = words ? [{ visitor: null, words }] : [];
  await tx.run(
    'UPDATE sweep SET state = ?, finished_at = ?, notes = JSON_MERGE_PRESERVE(notes, ?) WHERE id = ?',
    [state, toDatetime(finishedAt), JSON.stringify(notes), id],
  );
  const own = new URL(ctx.settings.VISITOR_ORIGIN).hostname;
  const [purposes, library] = [await listPurposes(tx), await readLibrary(tx)];
  const report = await sealFindings(tx, await findSweep(tx, id), purposes, library, own);
  const matters = state === 'failed' ? '' : await mattersOf(tx, await findSweep(tx, id));
  const digest = reportDigest(report);
  const entry = await record(tx, finishedAt, {
    actor: 'worker',
    action: 'sweep.end',
    object: 'sweep',
    objectId: id,
    detail: { state, site: begun.site_id, ...report.counts, matters, report: digest },
  });
  await tx.run('UPDATE sweep SET leaks = ?, matters = ? WHERE id = ?', [
    report.counts.leaks,
    matters.slice(0, 300),
    id,
  ]);
  await tx.run('INSERT INTO sweep_report (sweep_id, body, digest, ledger_id) VALUES (?, ?, ?, ?)', [
    id,
    await promisify(gzip)(JSON.stringify(report)),
    Buffer.from(digest, 'hex'),
    entry,
  ]);
  await remakeGate(tx, begun.site_id);
  await showSiteOnToday(tx, begun.site_id);
}

/** Proposes, judges and writes both down; the report of it all. */
export async function sealFindings(
  tx: Queries,
  sweep: Sweep,
  purposes: readonly Purpose[],
  library: TrackerLibrary,
  own: string,
): Promise<SweepReport> {
  const observed = await observedIn(tx, sweep.id);
  const decisions = await decisionsOn(tx, sweep);
  const ranWith = await ranWithIn(tx, sweep);
  const idOf = new Map(observed.map((o) => [o.tracker, o.id]));
  const proposals = proposeAll(
    observed.map((o) => o.tracker),
    (tracker) => ({
      own,
      chosen: sweep.chosen,
      known: library.find(tracker),
      ranWith: ranWith(idOf.get(tracker) ?? 0),
      decided: decisions.elsewhere.get(idOf.get(tracker) ?? 0) ?? [],
    }),
  );
  const trackers = observed.map(({ id, tracker }, i) => ({
    id,
    tracker,
    decided: decisions.here.get(id) ?? null,
    proposal: proposals[i] as (typeof proposals)[number],
    ranWith: (ranWith(id)?.with ?? []).map((s) => s.words),
  }));
  const site = await findSiteById(tx, sweep.site_id);
  const pages = await allPages(tx, sweep.id);
  const pictures = await pictureDigests(tx, sweep.id);
  const incomplete = new Set(sweep.notes.filter((n) => n.incomplete).map((n) => n.visitor));
  const untried = new Set(sweep.notes.filter((n) => n.untried).map((n) => n.visitor));
  const tried = sweep.visitors.filter((v) => pages.some((p) => p.visitor === v) || untried.has(v));
  const report = sweepReport({
    site: site.host,
    startUrl: site.start_url,
    startedAt: new Date(sweep.started_at ?? sweep.created_at),
    finishedAt: new Date(sweep.finished_at ?? sweep.created_at),
    state: sweep.state === 'complete' || sweep.state === 'cancelled' ? sweep.state : 'failed',
    terms: termsOf(sweep),
    purposes,
    visitors: tried.map((visitor) => ({
      visitor,
      tried: !untried.has(visitor),
      incomplete: incomplete.has(visitor),
      operated: sweep.operated[visitor] ?? null,
      pages: pages
        .filter((p) => p.visitor === visitor)
        .map(({ url, status, note }) => ({ url, status, note })),
      picture: pictures.get(visitor) ?? null,
    })),
    reading: sweep.reading,
    switches: sweep.switches,
    notes: sweep.notes.map(({ visitor, words }) => ({ visitor, words })),
    trackers,
  });
  const verdictOf = new Map(report.trackers.map((t) => [`${t.kind}\n${t.host}\n${t.name}`, t]));
  const proposed = trackers.map(({ id, proposal }) => {
    const known = purposes.some((p) => p.code === proposal.purpose);
    return [id, { proposed: known ? proposal.purpose : null, proposal: JSON.stringify(proposal) }] as const;
  });
  await updateMany(tx, 'tracker', 'id', new Map(proposed));
  const judged = trackers.map(({ id, tracker }) => {
    const told = verdictOf.get(`${tracker.kind}\n${tracker.host}\n${tracker.name}`);
    return [id, { purpose: told?.purpose ?? null, leaks: visitorBits(told?.leaks ?? []) }] as const;
  });
  await updateMany(tx, 'swept_tracker', 'tracker_id', new Map(judged), 'sweep_id = ?', [sweep.id]);
  return report;
}

interface Decisions {
  readonly here: ReadonlyMap<number, string>;
  /** What the same trackers were decided to be on other sites. */
  readonly elsewhere: ReadonlyMap<number, { purpose: string; site: string }[]>;
}

async function decisionsOn(tx: Queries, sweep: Sweep): Promise<Decisions> {
  const here = await tx.all(
    z.object({ id: z.number(), decided: z.string() }),
    'SELECT t.id, t.decided FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id WHERE s.sweep_id = ? AND t.decided IS NOT NULL',
    [sweep.id],
  );
  const others = await tx.all(
    z.object({ id: z.number(), decided: z.string(), host: z.string() }),
    `SELECT DISTINCT t.id, o.decided, site.host FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id
       JOIN tracker o ON o.shared = t.shared AND o.decided IS NOT NULL AND o.site_id <> t.site_id
       JOIN site ON site.id = o.site_id WHERE s.sweep_id = ? ORDER BY t.id, site.host`,
    [sweep.id],
  );
  const elsewhere = new Map<number, { purpose: string; site: string }[]>();
  for (const o of others)
    elsewhere.set(o.id, [...(elsewhere.get(o.id) ?? []), { purpose: o.decided, site: o.host }]);
  return { here: new Map(here.map((h) => [h.id, h.decided])), elsewhere };
}

async function pictureDigests(tx: Queries, sweepId: number): Promise<Map<Visitor, string>> {
  const rows = await tx.all(
    z.object({ visitor: z.string(), digest: Bytes }),
    'SELECT visitor, digest FROM sweep_picture WHERE sweep_id = ?',
    [sweepId],
  );
  return new Map(rows.map((r) => [r.visitor as Visitor, r.digest.toString('hex')]));
}

/** Why what a sweep found needs a hand, in words; empty where it does not. */
async function mattersOf(tx: Queries, sweep: Sweep): Promise<string> {
  const before = await sweepBefore(tx, sweep);
  const usual = await usualPages(tx, sweep);
  if (usual !== undefined) await tx.run('UPDATE sweep SET usual_pages = ? WHERE id = ?', [usual, sweep.id]);
  const difference = before && (await differenceBetween(tx, before.id, sweep.id));
  return whatMatters(difference, sweep.pages, usual);
}

/** Trackers of a sweep as the difference looks at them, with the purposes and verdicts of then. */
async function sweptTrackers(store: Queries, sweepId: number): Promise<SweptTracker[]> {
  const rows = await store.all(
    z.object({
      kind: z.enum(TRACKER_KINDS),
      name: z.string(),
      host: z.string(),
      purpose: z.string().nullable(),
      lifetime: z.number().nullable(),
      leaks: z.number(),
      cause: z.string(),
    }),
    'SELECT t.kind, t.name, t.host, s.purpose, s.lifetime, s.leaks, s.cause FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id WHERE s.sweep_id = ? ORDER BY t.host, t.name, t.id',
    [sweepId],
  );
  return rows.map(({ leaks, ...r }) => ({ ...r, leaks: visitorsOf(leaks) }));
}

export async function differenceBetween(
  store: Queries,
  before: number,
  after: number,
): Promise<SweepDifference> {
  return sweepDifference(await sweptTrackers(store, before), await sweptTrackers(store, after));
}

/** `undefined` with fewer than two sweeps. */
export async function differenceSinceLast(
  store: Queries,
  siteId: number,
): Promise<{ since: string; difference: SweepDifference } | undefined> {
  const [now, before] = await latestSweeps(store, siteId);
  if (!now || !before) return undefined;
  return {
    since: before.finished_at ?? before.created_at,
    difference: await differenceBetween(store, before.id, now.id),
  };
}

export interface SealedReport {
  readonly report: SweepReport;
  readonly digest: string;
  readonly ledgerId: string;
  /** `undefined` until the ledger is sealed, seconds after the sweep ended. */
  readonly proof: EntryProof | undefined;
  /** Whether the ledger's entry holds the digest of this very report. */
  readonly matches: boolean;
}

/** The report of a sweep as it ended, with its place in the ledger. Throws a RefusedError (404). */
export async function readReport(store: Queries, sweepId: number): Promise<SealedReport> {
  const row = await store.one(
    z.object({ body: Bytes, ledger_id: BigId }),
    'SELECT body, ledger_id FROM sweep_report WHERE sweep_id = ?',
    [sweepId],
  );
  if (!row) throw notFound('report of this sweep');
  const text = (await promisify(gunzip)(row.body)).toString('utf8');
  const report = JSON.parse(text) as SweepReport;
  const digest = reportDigest(report);
  const proof = await proveEntry(store, row.ledger_id);
  const kept = (proof?.entry.detail as { report?: string } | undefined)?.report;
  return { report, digest, ledgerId: row.ledger_id, proof, matches: kept === digest };
}

async function reportsOf(store: Queries, ids: readonly string[]): Promise<ReadonlyMap<string, unknown>> {
  const rows = await store.all(
    z.object({ sweep_id: z.number(), body: Bytes }),
    'SELECT sweep_id, body FROM sweep_report WHERE sweep_id IN (?)',
    [ids.map(Number)],
  );
  return new Map(
    await Promise.all(
      rows.map(async ({ sweep_id, body }): Promise<[string, unknown]> => {
        const text = await promisify(gunzip)(body).catch(() => 'null');
        return [String(sweep_id), JSON.parse(text.toString()) as unknown];
      }),
    ),
  );
}

export const REPORT_WITNESS: Witness = {
  action: 'sweep.end',
  field: 'report',
  what: 'report of sweep',
  table: 'sweep_report',
  values: reportsOf,
};

export async function readPicture(store: Queries, sweepId: number, visitor: Visitor): Promise<Buffer> {
  const row = await store.one(
    z.object({ jpeg: Bytes }),
    'SELECT jpeg FROM sweep_picture WHERE sweep_id = ? AND visitor = ?',
    [sweepId, visitor],
  );
  if (!row) throw notFound('picture');
  return row.jpeg;
}

/** Since when a tracker has leaked without a break up to the newest sweep; `undefined` where it does not leak now. */
export async function leakingSince(
  store: Queries,
  siteId: number,
  trackerId: number,
): Promise<string | undefined> {
  const rows = await store.all(
    z.object({ at: Instant, leaks: z.number().nullable() }),
    `SELECT COALESCE(w.finished_at, w.created_at) AS at, s.leaks FROM sweep w
       LEFT JOIN swept_tracker s ON s.sweep_id = w.id AND s.tracker_id = ?
     WHERE w.site_id = ? AND w.state IN ('complete', 'cancelled') AND w.pages > 0 ORDER BY w.id DESC LIMIT 500`,
    [trackerId, siteId],
  );
  const end = rows.findIndex((r) => !r.leaks);
  return rows[(end < 0 ? rows.length : end) - 1]?.at;
}
