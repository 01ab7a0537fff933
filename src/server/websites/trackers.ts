import { z } from 'zod';
import { notFound, RefusedError } from '../../core/refusal.ts';
import { judgeAll, type Verdict } from '../../core/websites/leak.ts';
import type { Proposal } from '../../core/websites/proposal.ts';
import type { Purpose } from '../../core/websites/purpose.ts';
import { TRACKER_KINDS, type Party, type Sighting, type TrackerKey } from '../../core/websites/tracker.ts';
import { VISITORS, type Visitor } from '../../core/websites/visitor.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { Count, Instant, JsonColumn, toDatetime } from '../store/columns.ts';
import { decodeCursor, toPage, type Page } from '../store/page.ts';
import type { Queries } from '../store/pool.ts';
import { listPurposes } from './purposes.ts';
import { findSite, LEAKS_SQL } from './sites.ts';
import { latestSweeps, sightingsOf } from './sweeps.ts';

export interface ListedTracker extends TrackerKey {
  readonly id: number;
  readonly purpose: string | null;
  readonly decided: boolean;
  readonly confidence: number;
  readonly party: Party;
  readonly lifetime: number | null;
  readonly pages: number;
  readonly verdicts: Readonly<Partial<Record<Visitor, Verdict['verdict']>>>;
}

const ProposalColumn = JsonColumn(
  z.object({
    purpose: z.string().nullable(),
    confidence: z.number(),
    reasons: z.array(z.object({ purpose: z.string(), words: z.string(), weight: z.number() })),
  }),
);

export const TRACKER_SORTS = ['place', 'name', 'kind', 'host', 'purpose', 'lifetime', 'pages'] as const;
export const TrackerFilter = z.object({
  text: z.string().max(100).default(''),
  show: z.enum(['all', 'leaks', 'unsorted']).default('all'),
  purpose: z.string().max(31).optional(),
  kind: z.enum(TRACKER_KINDS).optional(),
  sort: z.enum(TRACKER_SORTS).default('place'),
  order: z.enum(['up', 'down']).default('up'),
});
export type TrackerFilter = z.infer<typeof TrackerFilter>;

/** `place`: what needs a hand first, then by purpose and name. Never NULL, so that pages can follow by key. */
const SORT_SQL: Record<(typeof TRACKER_SORTS)[number], string> = {
  place: `CONCAT(CASE WHEN ${LEAKS_SQL} THEN 0 WHEN t.purpose IS NULL THEN 1 ELSE 2 END, COALESCE(p.place, 9), t.name)`,
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
  sort_key: z.union([z.string(), z.number()]),
});
const FROM =
  'FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id LEFT JOIN purpose p ON p.code = t.purpose WHERE s.sweep_id = ?';

/** The trackers of the site's newest sweep. */
export async function listTrackers(
  store: Queries,
  host: string,
  filter: TrackerFilter,
  after: string | undefined,
  size: number,
): Promise<Page<ListedTracker>> {
  const site = await findSite(store, host);
  const [sweep] = await latestSweeps(store, site.id);
  if (!sweep) return { rows: [], next: null };
  const purposes = await listPurposes(store);
  const { where, params } = condition(filter);
  const sort = SORT_SQL[filter.sort];
  const [direction, beyond] = filter.order === 'up' ? ['ASC', '>'] : ['DESC', '<'];
  if (after !== undefined) {
    const [key, id] = decodeCursor(after);
    where.push(`(${sort} ${beyond} ? OR (${sort} = ? AND t.id ${beyond} ?))`);
    params.push(key as string, key as string, Number(id));
  }
  const rows = await store.all(
    Row,
    `SELECT t.id, t.kind, t.name, t.host, t.purpose, t.decided, t.proposal, s.party, s.lifetime, s.pages, s.seen, ${sort} AS sort_key
     ${FROM} ${where.map((w) => `AND ${w}`).join(' ')} ORDER BY sort_key ${direction}, t.id ${direction} LIMIT ?`,
    [sweep.id, ...params, size + 1],
  );
  const page = toPage(rows, size, (r) => [r.sort_key, r.id]);
  return { ...page, rows: page.rows.map((r) => toListed(r, purposes, sweep.visitors)) };
}

export interface TrackerCounts {
  readonly all: number;
  readonly leaks: number;
  readonly unsorted: number;
}

export async function countTrackers(store: Queries, sweepId: number): Promise<TrackerCounts> {
  const row = await store.one(
    z.object({ all: Count, leaks: Count, unsorted: Count }),
    `SELECT COUNT(*) AS \`all\`, SUM(${LEAKS_SQL}) AS leaks, SUM(t.purpose IS NULL) AS unsorted ${FROM}`,
    [sweepId],
  );
  return row ?? { all: 0, leaks: 0, unsorted: 0 };
}

function condition(filter: TrackerFilter): { where: string[]; params: (string | number)[] } {
  const where: string[] = [];
  const params: (string | number)[] = [];
  if (filter.text) {
    const like = `%${filter.text.replace(/[\\%_]/g, '\\$&')}%`;
    where.push('(t.name LIKE ? OR t.host LIKE ?)');
    params.push(like, like);
  }
  if (filter.show === 'leaks') where.push(LEAKS_SQL);
  if (filter.show === 'unsorted') where.push('t.purpose IS NULL');
  if (filter.purpose) {
    where.push('t.purpose = ?');
    params.push(filter.purpose);
  }
  if (filter.kind) {
    where.push('t.kind = ?');
    params.push(filter.kind);
  }
  return { where, params };
}

function toListed(
  r: z.infer<typeof Row>,
  purposes: readonly Purpose[],
  visitors: readonly Visitor[],
): ListedTracker {
  const seen = VISITORS.filter((_, i) => r.seen & (1 << i)).map((visitor) => ({ visitor }) as Sighting);
  const verdicts = judgeAll(purposes.find((p) => p.code === r.purpose) ?? null, seen, visitors);
  return {
    id: r.id,
    kind: r.kind,
    name: r.name,
    host: r.host,
    purpose: r.purpose,
    decided: r.decided !== null,
    confidence: r.proposal.confidence,
    party: r.party,
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
    verdicts: judgeAll(purposes.find((p) => p.code === row.purpose) ?? null, sightings, sweep.visitors),
    pagesSwept: sweep.pages,
  };
}

export interface Decision {
  readonly ids: readonly number[];
  /** `null` puts them back to what is proposed. */
  readonly purpose: string | null;
  /** Asked for when something is called Essential that was seen without consent. */
  readonly because: string;
}

const Before = z.object({ id: z.number(), decided: z.string().nullable(), because: z.string().nullable() });
const Locked = Before.extend({ proposed: z.string().nullable() });

/** Decides the purpose of many trackers at once. Returns what stood before, for undo. */
export async function decidePurpose(
  ctx: Context,
  accountId: number,
  host: string,
  decision: Decision,
): Promise<z.infer<typeof Before>[]> {
  return ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host);
    const before = await tx.all(
      Locked,
      'SELECT id, decided, because, proposed FROM tracker WHERE site_id = ? AND id IN (?) FOR UPDATE',
      [site.id, [...decision.ids]],
    );
    if (before.length !== decision.ids.length) throw notFound('tracker');
    const purpose = (await listPurposes(tx)).find((p) => p.code === decision.purpose);
    if (decision.purpose !== null && !purpose)
      throw new RefusedError('There is no such purpose.', [
        { field: 'purpose', message: 'Choose one of the organisation’s purposes.' },
      ]);
    if (purpose?.essential && decision.because === '' && before.some((b) => b.proposed !== purpose.code))
      throw new RefusedError('Say why it is essential.', [
        {
          field: 'because',
          message:
            'Essential runs without consent, so the reason goes to the ledger. Say what a visitor asked for that needs it.',
        },
      ]);
    const now = ctx.now();
    await tx.run(
      'UPDATE tracker SET decided = ?, decided_by = ?, decided_at = ?, because = ? WHERE site_id = ? AND id IN (?)',
      [decision.purpose, accountId, toDatetime(now), decision.because || null, site.id, [...decision.ids]],
    );
    for (const b of before)
      await record(tx, now, {
        actor: accountId,
        action: 'tracker.decide',
        object: 'tracker',
        objectId: b.id,
        detail: { before: b.decided, after: decision.purpose, because: decision.because },
      });
    return before.map(({ proposed: _proposed, ...b }) => b);
  });
}

/** Puts decisions back as they were; each into the ledger, as every change. */
export async function restoreDecisions(
  ctx: Context,
  accountId: number,
  host: string,
  before: readonly z.infer<typeof Before>[],
): Promise<void> {
  for (const b of before)
    await decidePurpose(ctx, accountId, host, { ids: [b.id], purpose: b.decided, because: b.because ?? '' });
}
