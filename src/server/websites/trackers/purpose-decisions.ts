import { z } from 'zod';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { leakingVisitors } from '../../../core/websites/trackers/leak.ts';
import { decidedReason, type Proposal } from '../../../core/websites/trackers/proposal.ts';
import { visitorBits, visitorsOf } from '../../../core/websites/trackers/visitor.ts';
import type { Context } from '../../context.ts';
import { recordAll } from '../../evidence/ledger.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { updateMany } from '../../store/update-many.ts';
import { listPurposes } from '../notices/purposes.ts';
import { remakeGate } from '../gate/site-gate.ts';
import { showSiteOnToday } from '../sites/site-today.ts';
import { findSite } from '../sites/sites.ts';
import { latestSweeps, termsOf } from '../sweeps/sweeps.ts';
import { ProposalColumn } from './trackers.ts';

export interface Decision {
  readonly ids: readonly number[];
  /** `null` puts them back to what is proposed. */
  readonly purpose: string | null;
  /** Asked for when something is called Essential that was seen without consent. */
  readonly because: string;
  /** The purposes that the editor saw, by the tracker's number; those left out are not compared. */
  readonly saw?: Readonly<Record<string, string | null>>;
}

const Before = z.object({ id: z.number(), decided: z.string().nullable(), because: z.string().nullable() });
const Locked = Before.extend({ proposed: z.string().nullable(), purpose: z.string().nullable() });

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
      'SELECT id, decided, because, proposed, purpose FROM tracker WHERE site_id = ? AND id IN (?) FOR UPDATE',
      [site.id, [...decision.ids]],
    );
    if (before.length !== new Set(decision.ids).size) throw notFound('tracker');
    const { saw = {} } = decision;
    const others = before.filter((b) => String(b.id) in saw && saw[String(b.id)] !== b.purpose);
    if (others.length > 0) throw decidedMeanwhile(others.length);
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
    await judgeAnew(tx, [...decision.ids]);
    await spread(tx, [...decision.ids], site.host);
    await recordAll(
      tx,
      now,
      before.map((b) => ({
        actor: accountId,
        action: 'tracker.decide',
        object: 'tracker',
        objectId: b.id,
        detail: { before: b.decided, after: decision.purpose, because: decision.because },
      })),
    );
    return before.map(({ id, decided, because }) => ({ id, decided, because }));
  });
}

/** Writes down the verdicts of trackers in the newest sweep of their site, after a change of their purpose. */
async function judgeAnew(tx: Queries, ids: readonly number[]): Promise<void> {
  const rows = await tx.all(
    z.object({
      id: z.number(),
      site_id: z.number(),
      purpose: z.string().nullable(),
      proposal: ProposalColumn,
    }),
    'SELECT id, site_id, purpose, proposal FROM tracker WHERE id IN (?)',
    [ids],
  );
  const purposes = await listPurposes(tx);
  for (const siteId of new Set(rows.map((r) => r.site_id))) {
    const [sweep] = await latestSweeps(tx, siteId);
    if (!sweep) continue;
    const here = new Map(rows.filter((r) => r.site_id === siteId).map((r) => [r.id, r]));
    const swept = await tx.all(
      z.object({ tracker_id: z.number(), seen: z.number(), refused: z.number() }),
      'SELECT tracker_id, seen, refused FROM swept_tracker WHERE sweep_id = ? AND tracker_id IN (?)',
      [sweep.id, [...here.keys()]],
    );
    const judged = swept.map((seen) => {
      const row = here.get(seen.tracker_id) as (typeof rows)[number];
      const refused = visitorsOf(seen.refused);
      const leaks = leakingVisitors(
        purposes.find((p) => p.code === row.purpose) ?? null,
        visitorsOf(seen.seen).map((visitor) => ({
          visitor,
          refused: refused.includes(visitor) ? 'yes' : '',
        })),
        termsOf(sweep),
        row.proposal.essential,
      );
      return [row.id, { purpose: row.purpose, leaks: visitorBits(leaks) }] as const;
    });
    await updateMany(tx, 'swept_tracker', 'tracker_id', new Map(judged), 'sweep_id = ?', [sweep.id]);
    await tx.run(
      'UPDATE sweep SET leaks = (SELECT COUNT(*) FROM swept_tracker WHERE sweep_id = ? AND leaks <> 0) WHERE id = ?',
      [sweep.id, sweep.id],
    );
    await remakeGate(tx, siteId);
    await showSiteOnToday(tx, siteId);
  }
}

/** Proposes what was decided here for the same trackers on other sites, where nobody has decided. */
async function spread(tx: Queries, ids: readonly number[], host: string): Promise<void> {
  const others = await tx.all(
    z.object({ id: z.number(), proposal: ProposalColumn, decided: z.string().nullable() }),
    `SELECT o.id, o.proposal, t.decided FROM tracker t JOIN tracker o ON o.shared = t.shared AND o.site_id <> t.site_id AND o.decided IS NULL WHERE t.id IN (?) LIMIT 2000`,
    [ids],
  );
  const purposes = await listPurposes(tx);
  const proposed = others.flatMap(({ id, proposal, decided }) => {
    if (decided === null) return [];
    const next: Proposal = {
      purpose: decided,
      confidence: 0.99,
      essential: purposes.find((p) => p.code === decided)?.essential ? 0.99 : 0,
      reasons: [decidedReason(decided, host), ...proposal.reasons.filter((r) => r.decidedOn === undefined)],
    };
    return [[id, { proposed: decided, proposal: JSON.stringify(next) }] as const];
  });
  await updateMany(tx, 'tracker', 'id', new Map(proposed));
  if (others.length > 0)
    await judgeAnew(
      tx,
      others.map((o) => o.id),
    );
}

/**
 * Puts decisions back as they were, all or none; each into the ledger, as every change. Throws a RefusedError (409) where
 * one is no longer what `after` made it.
 */
export async function restoreDecisions(
  ctx: Context,
  accountId: number,
  host: string,
  before: readonly z.infer<typeof Before>[],
  after: string | null,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host);
    const ids = before.map((b) => b.id);
    const now = await tx.all(
      Before,
      'SELECT id, decided, because FROM tracker WHERE site_id = ? AND id IN (?) FOR UPDATE',
      [site.id, ids],
    );
    if (now.length !== new Set(ids).size) throw notFound('tracker');
    const others = now.filter((n) => n.decided !== after);
    if (others.length > 0) throw decidedMeanwhile(others.length);
    const codes = new Set((await listPurposes(tx)).map((p) => p.code));
    if (before.some((b) => b.decided !== null && !codes.has(b.decided))) throw notFound('purpose');
    const at = ctx.now();
    const put = before.map((b) => {
      const { decided, because } = b;
      return [b.id, { decided, because, decided_by: accountId, decided_at: toDatetime(at) }] as const;
    });
    await updateMany(tx, 'tracker', 'id', new Map(put), 'site_id = ?', [site.id]);
    await recordAll(
      tx,
      at,
      before.map((b) => ({
        actor: accountId,
        action: 'tracker.decide',
        object: 'tracker',
        objectId: b.id,
        detail: { before: after, after: b.decided, because: b.because ?? '' },
      })),
    );
    await judgeAnew(tx, ids);
    await spread(tx, ids, site.host);
  });
}

function decidedMeanwhile(n: number): RefusedError {
  return new RefusedError(
    `Someone else decided ${n === 1 ? 'this' : `${n} of these`} a moment ago. Look again first.`,
    [],
    409,
  );
}
