import { z } from 'zod';
import { installSnippet } from '../../../core/websites/trackers/install.ts';
import { fixPage, FIXES, installInPage, tagTargetOf, type Fix } from '../../../core/websites/trackers/fix.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { trackerKey, type ObservedTracker } from '../../../core/websites/trackers/tracker.ts';
import { VISITORS, visitorsOf, type Visitor } from '../../../core/websites/trackers/visitor.ts';
import type { Json } from '../../../core/rules/change.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { addJob } from '../../jobs/job.ts';
import type { JobKind, JobRun } from '../../jobs/runner.ts';
import { Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { holdFor, writeHolds } from './gate-holds.ts';
import { observedIn } from './sightings.ts';
import { findSite, findSiteById } from '../sites/sites.ts';
import { sweepingPlan } from '../sweeps/sweep-job.ts';
import type { CrawlResult } from '../crawl/crawl-plan.ts';
import { sweepSite } from '../crawl/sweep-site.ts';
import { latestSweeps } from '../sweeps/sweeps.ts';

const TrialVisitor = z.object({
  visitor: z.enum(VISITORS),
  tried: z.boolean(),
  before: z.boolean(),
  after: z.boolean(),
});
const Outcome = z.object({
  pages: z.array(z.string()),
  /** Tags changed in the pages' HTML; `null` where none had to be. */
  tags: z.number().nullable(),
  visitors: z.array(TrialVisitor),
  /** What else was kept back with it, by name. */
  alsoGone: z.array(z.string()),
  /** The notice's line was put in for the trial. */
  installed: z.boolean(),
});
export type TrialOutcome = z.infer<typeof Outcome>;

const Row = z.object({
  id: z.number(),
  site_id: z.number(),
  tracker_id: z.number(),
  fix: z.enum(FIXES),
  purpose: z.string(),
  state: z.enum(['running', 'done', 'failed']),
  outcome: JsonColumn(Outcome.nullable()),
  created_at: Instant,
});
export type FixTrial = z.infer<typeof Row>;
const SELECT = 'SELECT id, site_id, tracker_id, fix, purpose, state, outcome, created_at FROM fix_trial';

/** The last trial of each fix of a tracker. */
export function trialsOf(store: Queries, trackerId: number): Promise<FixTrial[]> {
  return store.all(
    Row,
    `${SELECT} WHERE id IN (SELECT MAX(id) FROM fix_trial WHERE tracker_id = ? GROUP BY fix) ORDER BY id DESC`,
    [trackerId],
  );
}

/** Pages that a fix is tried on. */
const TRIAL_PAGES = 3;

/** Queues the trial of a fix on a few pages where the tracker was seen. Throws a RefusedError. */
export async function startTrial(
  ctx: Context,
  accountId: number,
  host: string,
  trackerId: number,
  fix: Fix,
  purpose: string,
): Promise<{ trial: number; job: string }> {
  return ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    if (fix === 'hold') await holdFor(tx, host, trackerId, purpose);
    const tracker = await tx.one(
      z.object({ name: z.string() }),
      'SELECT name FROM tracker WHERE id = ? AND site_id = ?',
      [trackerId, site.id],
    );
    if (!tracker) throw notFound('tracker');
    const open = await tx.one(
      z.object({ id: z.number() }),
      "SELECT id FROM fix_trial WHERE tracker_id = ? AND state = 'running' AND created_at > ? LIMIT 1",
      [trackerId, toDatetime(new Date(ctx.now().getTime() - 10 * 60_000))],
    );
    if (open) throw new RefusedError('A fix of this tracker is being tried already.', [], 409);
    const { id } = await tx.run(
      'INSERT INTO fix_trial (site_id, tracker_id, fix, purpose, created_by, created_at) VALUES (?, ?, ?, ?, ?, ?)',
      [site.id, trackerId, fix, purpose, accountId, toDatetime(ctx.now())],
    );
    const job = await addJob(tx, ctx.now(), {
      kind: 'fix-trial',
      title: `Trial of a fix on ${host}`,
      about: { object: 'tracker', id: trackerId },
      within: [{ kind: 'site', id: String(site.id) }],
      payload: { trial: id },
      createdBy: accountId,
      link: `/websites/${host}?tracker=${trackerId}`,
      maxAttempts: 2,
    });
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'fix.try',
      object: 'tracker',
      objectId: trackerId,
      detail: { fix, purpose },
    });
    return { trial: id, job };
  });
}

const Payload = z.object({ trial: z.number() });

export const fixTrialJob: JobKind = {
  kind: 'fix-trial',
  lane: 'browser',
  see: 'websites.read',
  start: 'websites.sweep',
  work: async (ctx, run) => {
    const { trial: id } = Payload.parse(run.job.payload);
    return (await tryFix(ctx, run, id)) as unknown as Json;
  },
  ended: async (tx, _ctx, job, end) => {
    const { trial } = Payload.parse(job.payload);
    const outcome = 'result' in end ? end.result : null;
    await tx.run('UPDATE fix_trial SET state = ?, outcome = ? WHERE id = ?', [
      outcome ? 'done' : 'failed',
      outcome && JSON.stringify(outcome),
      trial,
    ]);
  },
};

/** `null` when the work was called off. */
async function tryFix(ctx: Context, run: JobRun, id: number): Promise<TrialOutcome | null> {
  const trial = await ctx.store.one(Row, `${SELECT} WHERE id = ?`, [id]);
  if (!trial) throw notFound('trial');
  const site = await findSiteById(ctx.store, trial.site_id);
  const [sweep] = await latestSweeps(ctx.store, site.id);
  if (!sweep) throw notFound('sweep');
  const all = await observedIn(ctx.store, sweep.id);
  const found = all.find((o) => o.id === trial.tracker_id);
  if (!found) throw new Error('The newest sweep did not see this tracker: sweep the site again.');
  const { tracker } = found;
  const leaks = await ctx.store.one(
    z.object({ leaks: z.number() }),
    'SELECT leaks FROM swept_tracker WHERE sweep_id = ? AND tracker_id = ?',
    [sweep.id, found.id],
  );
  const leaking = visitorsOf(leaks?.leaks ?? 0);
  const seenBy = tracker.sightings.map((s) => s.visitor);
  const wanted = leaking.length > 0 ? leaking : seenBy;
  const visitors = VISITORS.filter((v) => wanted.includes(v) || (v === 'accepted' && trial.fix !== 'remove'));
  const pages = [...new Set(tracker.sightings.flatMap((s) => [s.firstPage, ...s.onPages]))].slice(
    0,
    TRIAL_PAGES,
  );
  const snippet = installSnippet(ctx.settings.VISITOR_ORIGIN, site.site_key);
  const scriptUrl = `${ctx.settings.VISITOR_ORIGIN}/${site.site_key}.js`;
  const target = tagTargetOf(tracker);
  let tags = 0;
  let installed = false;
  const rewrite = (html: string, url: string): string => {
    const withLine = installInPage(html, snippet, scriptUrl);
    if (withLine !== html) installed = true;
    if (trial.fix === 'hold') return withLine;
    const fixed = fixPage(html, url, { fix: trial.fix, purpose: trial.purpose, target });
    tags = Math.max(tags, fixed.changed);
    return installInPage(fixed.html, snippet, scriptUrl);
  };
  const plan = sweepingPlan(ctx, site, sweep.region);
  const holds: Readonly<Record<string, string>> =
    trial.fix === 'hold'
      ? { 'x-yare-holds': writeHolds([await holdFor(ctx.store, site.host, found.id, trial.purpose)]) }
      : {};
  const results: CrawlResult[] = [];
  await sweepSite(
    {
      ...plan,
      service: plan.service && { ...plan.service, headers: { ...plan.service.headers, ...holds } },
      rewrite,
      // The start page may not be among them: the crawl begins there all the same.
      scope: { ...sweep.scope, maxPages: TRIAL_PAGES + 1, maxMinutes: 5, startPaths: [], perShape: null },
      visitors,
      region: sweep.region,
      chosen: sweep.chosen,
      done: { visitors: [], pages },
    },
    run.signal,
    (p) =>
      run.progress({
        words: `visitor ${p.visitor} of ${p.visitors}, page ${p.pages}`,
        share: p.share,
        secondsLeft: null,
      }),
    {
      visitor: (result) => {
        results.push(result);
        return Promise.resolve(true);
      },
    },
  );
  if (run.signal.aborted) return null;
  return {
    pages,
    tags: trial.fix === 'hold' ? null : tags,
    installed,
    visitors: results.map((r) => ({
      visitor: r.visitor,
      tried: r.couldChoose,
      before: seenBy.includes(r.visitor),
      after: r.sightings.some((s) => trackerKey(s) === trackerKey(tracker) && s.sighting.refused === ''),
    })),
    alsoGone: alsoGone(
      all.map((o) => o.tracker),
      tracker,
      results,
      wanted,
      pages,
    ),
  };
}

/** What the leaking visitors saw on these pages in the sweep and saw no more in the trial. */
function alsoGone(
  trackers: readonly ObservedTracker[],
  fixed: ObservedTracker,
  results: readonly CrawlResult[],
  visitors: readonly Visitor[],
  pages: readonly string[],
): string[] {
  const tried = results.filter((r) => r.couldChoose && visitors.includes(r.visitor));
  const now = new Set(tried.flatMap((r) => r.sightings.map((s) => `${r.visitor}\n${trackerKey(s)}`)));
  return trackers
    .filter(
      (t) =>
        trackerKey(t) !== trackerKey(fixed) &&
        tried.length > 0 &&
        tried.some((r) =>
          t.sightings.some((s) => s.visitor === r.visitor && s.onPages.some((p) => pages.includes(p))),
        ) &&
        tried.every((r) => !now.has(`${r.visitor}\n${trackerKey(t)}`)),
    )
    .map((t) => t.name)
    .slice(0, 40);
}
