import { z } from 'zod';
import { sortableColumns } from '../../../core/lists/list.ts';
import { listShape } from '../../../core/lists/list-shape.ts';
import { notFound } from '../../../core/refusal.ts';
import { judgeAll, type Terms, type Verdict } from '../../../core/websites/trackers/leak.ts';
import type { Proposal } from '../../../core/websites/trackers/proposal.ts';
import { purposeName, type Purpose } from '../../../core/websites/notice/purpose.ts';
import { TRACKER_LIST, type TRACKER_SHOWS } from '../../../core/websites/trackers/tracker-list.ts';
import {
  lifetimeWords,
  TRACKER_KINDS,
  type Party,
  type Sighting,
  type TrackerKey,
} from '../../../core/websites/trackers/tracker.ts';
import { visitorsOf, VISITORS, type Visitor } from '../../../core/websites/trackers/visitor.ts';
import { Count, Flag, Instant, JsonColumn } from '../../store/columns.ts';
import type { Cell } from '../../http/csv.ts';
import { listPage, type ListSource, type WishInput } from '../../lists/list-source.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { gateHoldOf } from '../../../core/websites/trackers/fix.ts';
import { trialsOf, type FixTrial } from './fix-trials.ts';
import { holdOf, type HoldInForce } from './gate-holds.ts';
import { listPurposes } from '../notices/purposes.ts';
import { findSite, LEAKS_SQL } from '../sites/sites.ts';
import { sightingsOf } from './sightings.ts';
import { leakingSince } from '../sweeps/sweep-end.ts';
import { latestSweeps, termsOf, type Sweep } from '../sweeps/sweeps.ts';

export interface ListedTracker extends TrackerKey {
  readonly id: number;
  readonly purpose: string | null;
  readonly decided: boolean;
  readonly confidence: number;
  readonly party: Party;
  /** Other sites decided differently. */
  readonly conflict: boolean;
  readonly lifetime: number | null;
  readonly pages: number;
  readonly verdicts: Readonly<Partial<Record<Visitor, Verdict['verdict']>>>;
}

export const ProposalColumn = JsonColumn(
  z.object({
    purpose: z.string().nullable(),
    confidence: z.number(),
    essential: z.number().default(1),
    reasons: z.array(
      z.object({
        purpose: z.string(),
        words: z.string(),
        weight: z.number(),
        decidedOn: z.string().optional(),
      }),
    ),
  }),
);

export const TRACKER_SORTS = [TRACKER_LIST.order.sort, ...sortableColumns(TRACKER_LIST)];
export const TrackerFilter = z.object(listShape(TRACKER_LIST));
export type TrackerFilter = WishInput;

/** Decided one way here and another way on another site. */
const CONFLICT_SQL =
  '(t.decided IS NOT NULL AND EXISTS (SELECT 1 FROM tracker o WHERE o.shared = t.shared AND o.site_id <> t.site_id AND o.decided <> t.decided))';

/** Of each part that is looked at by itself. */
const SHOWN_SQL: Readonly<Record<keyof typeof TRACKER_SHOWS, string>> = {
  leaks: LEAKS_SQL,
  conflicts: CONFLICT_SQL,
  attempts: 's.refused = s.seen',
  unsorted: 't.purpose IS NULL',
};

/** `place`: what needs a hand first, then by purpose and name. Never NULL, so that pages can follow by key. */
const SORTS = {
  place: `CONCAT(CASE WHEN t.purpose IS NULL THEN 0 WHEN ${LEAKS_SQL} THEN 1 ELSE 2 END, COALESCE(p.place, 9), t.name)`,
  name: 't.name',
  kind: 't.kind',
  host: 't.host',
  purpose: "COALESCE(p.name, '')",
  lifetime: 'COALESCE(s.lifetime, -1)',
  pages: 's.pages',
};

const Row = z.object({
  id: z.number(),
  kind: z.enum(TRACKER_KINDS),
  name: z.string(),
  host: z.string(),
  purpose: z.string().nullable(),
  decided: z.string().nullable(),
  proposal: ProposalColumn,
  party: z.enum(['first', 'third']),
  lifetime: z.number().nullable(),
  pages: z.number(),
  seen: z.number(),
  refused: z.number(),
  conflict: Flag,
});
const FROM =
  'swept_tracker s JOIN tracker t ON t.id = s.tracker_id LEFT JOIN purpose p ON p.code = t.purpose';

const SOURCE: ListSource<z.infer<typeof Row>> = {
  list: TRACKER_LIST,
  select: `t.id, t.kind, t.name, t.host, t.purpose, t.decided, t.proposal, s.party, s.lifetime, s.pages, s.seen, s.refused, ${CONFLICT_SQL} AS conflict`,
  from: FROM,
  row: Row,
  id: 't.id',
  sorts: SORTS,
  search: ['t.name', 't.host'],
  filters: {
    show: (where, show) => where.and(SHOWN_SQL[show as keyof typeof SHOWN_SQL]),
    purpose: (where, code) => where.and('t.purpose = ?', code),
    kind: (where, kind) => where.and('t.kind = ?', kind),
  },
};

/** The trackers of the site's newest sweep. */
export async function listTrackers(
  store: Queries,
  host: string,
  wish: TrackerFilter,
  after: string | undefined,
  size: number,
): Promise<Page<ListedTracker>> {
  const site = await findSite(store, host);
  const [sweep] = await latestSweeps(store, site.id);
  if (!sweep) return { rows: [], next: null };
  const purposes = await listPurposes(store);
  const base = new Where().and('s.sweep_id = ?', sweep.id);
  const page = await listPage(store, SOURCE, wish, { base, after, size });
  return { ...page, rows: page.rows.map((r) => toListed(r, purposes, sweep)) };
}

/** What an export has of a tracker. */
export function trackerCells(
  purposes: readonly Purpose[],
): (t: ListedTracker) => Readonly<Record<string, Cell>> {
  return (t) => ({
    name: t.name,
    kind: t.kind,
    host: t.host,
    party: t.party,
    purpose: purposeName(purposes, t.purpose),
    decided: t.decided ? 'yes' : 'proposed',
    lifetime: lifetimeWords(t, t.lifetime),
    pages: t.pages,
    ...Object.fromEntries(VISITORS.map((v) => [v, t.verdicts[v] ?? 'not tried'])),
  });
}

export interface TrackerCounts {
  readonly all: number;
  readonly leaks: number;
  readonly unsorted: number;
  readonly conflicts: number;
  readonly attempts: number;
}

export const NO_TRACKERS: TrackerCounts = { all: 0, leaks: 0, unsorted: 0, conflicts: 0, attempts: 0 };

export async function countTrackers(store: Queries, sweepId: number): Promise<TrackerCounts> {
  const row = await store.one(
    z.object({ all: Count, leaks: Count, unsorted: Count, conflicts: Count, attempts: Count }),
    `SELECT COUNT(*) AS \`all\`, SUM(${LEAKS_SQL}) AS leaks, SUM(t.purpose IS NULL) AS unsorted, SUM(${CONFLICT_SQL}) AS conflicts, SUM(s.refused = s.seen) AS attempts FROM ${FROM} WHERE s.sweep_id = ?`,
    [sweepId],
  );
  return row ?? NO_TRACKERS;
}

/** Purposes that a sweep found something for. */
export async function sweptPurposes(store: Queries, sweepId: number): Promise<string[]> {
  const rows = await store.all(
    z.object({ purpose: z.string() }),
    'SELECT DISTINCT t.purpose FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id WHERE s.sweep_id = ? AND t.purpose IS NOT NULL',
    [sweepId],
  );
  return rows.map((r) => r.purpose);
}

function toListed(r: z.infer<typeof Row>, purposes: readonly Purpose[], sweep: Sweep): ListedTracker {
  const refused = visitorsOf(r.refused);
  const seen = visitorsOf(r.seen).map((visitor) => ({
    visitor,
    refused: refused.includes(visitor) ? 'refused' : '',
  }));
  const verdicts = judgeAll(
    purposes.find((p) => p.code === r.purpose) ?? null,
    seen,
    sweep.visitors,
    termsOf(sweep),
    r.proposal.essential,
  );
  return {
    id: r.id,
    kind: r.kind,
    name: r.name,
    host: r.host,
    purpose: r.purpose,
    decided: r.decided !== null,
    confidence: r.proposal.confidence,
    party: r.party,
    conflict: r.conflict,
    lifetime: r.lifetime,
    pages: r.pages,
    verdicts: Object.fromEntries(Object.entries(verdicts).map(([v, verdict]) => [v, verdict.verdict])),
  };
}

export interface OpenedTracker extends TrackerKey {
  readonly id: number;
  readonly purpose: string | null;
  readonly decidedBy: string | null;
  readonly decidedAt: string | null;
  readonly because: string | null;
  readonly proposal: Proposal;
  readonly firstSeen: string;
  readonly lastSeen: string;
  readonly sightings: readonly Sighting[];
  readonly verdicts: Readonly<Partial<Record<Visitor, Verdict>>>;
  readonly pagesSwept: number;
  readonly visitors: readonly Visitor[];
  readonly terms: Terms;
  /** Since when it has leaked without a break; `null` where it does not leak now. */
  readonly leakingSince: string | null;
  /** What the gate holds of it; `null` where nothing. */
  readonly held: HoldInForce | null;
  readonly trials: readonly FixTrial[];
  /** Whether the gate could hold it at all. */
  readonly holdable: boolean;
  /** What it is decided to be elsewhere. */
  readonly elsewhere: readonly {
    readonly host: string;
    readonly purpose: string;
    readonly by: string | null;
  }[];
}

export async function openTracker(store: Queries, host: string, id: number): Promise<OpenedTracker> {
  const site = await findSite(store, host);
  const [sweep] = await latestSweeps(store, site.id);
  const row = await store.one(
    z.object({
      id: z.number(),
      kind: z.enum(TRACKER_KINDS),
      name: z.string(),
      host: z.string(),
      purpose: z.string().nullable(),
      decided: z.string().nullable(),
      decided_at: Instant.nullable(),
      decided_by: z.string().nullable(),
      because: z.string().nullable(),
      proposal: ProposalColumn,
      first_seen: Instant,
      last_seen: Instant,
    }),
    `SELECT t.id, t.kind, t.name, t.host, t.purpose, t.decided, t.decided_at, a.name AS decided_by, t.because, t.proposal, t.first_seen, t.last_seen
     FROM tracker t LEFT JOIN account a ON a.id = t.decided_by WHERE t.site_id = ? AND t.id = ?`,
    [site.id, id],
  );
  if (!row || !sweep) throw notFound('tracker');
  const sightings = await sightingsOf(store, sweep.id, id);
  const purposes = await listPurposes(store);
  return {
    id: row.id,
    kind: row.kind,
    name: row.name,
    host: row.host,
    purpose: row.purpose,
    decidedBy: row.decided ? (row.decided_by ?? 'someone') : null,
    decidedAt: row.decided ? row.decided_at : null,
    because: row.because,
    proposal: row.proposal,
    firstSeen: row.first_seen,
    lastSeen: row.last_seen,
    sightings,
    verdicts: judgeAll(
      purposes.find((p) => p.code === row.purpose) ?? null,
      sightings,
      sweep.visitors,
      termsOf(sweep),
      row.proposal.essential,
    ),
    pagesSwept: sweep.pages,
    visitors: sweep.visitors,
    terms: termsOf(sweep),
    leakingSince: (await leakingSince(store, site.id, id)) ?? null,
    held: (await holdOf(store, id)) ?? null,
    trials: await trialsOf(store, id),
    holdable: gateHoldOf({ kind: row.kind, name: row.name, host: row.host, sightings }, '') !== undefined,
    elsewhere: await store.all(
      z.object({ host: z.string(), purpose: z.string(), by: z.string().nullable() }),
      `SELECT site.host, o.decided AS purpose, a.name AS \`by\` FROM tracker t JOIN tracker o ON o.shared = t.shared AND o.site_id <> t.site_id
         JOIN site ON site.id = o.site_id LEFT JOIN account a ON a.id = o.decided_by WHERE t.id = ? AND o.decided IS NOT NULL ORDER BY site.host`,
      [id],
    ),
  };
}
