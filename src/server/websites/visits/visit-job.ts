import { z } from 'zod';
import type { Json } from '../../../core/rules/change.ts';
import { asSaid } from '../../../core/websites/gate/gate-plan.ts';
import { installSnippet } from '../../../core/websites/trackers/install.ts';
import { installInPage } from '../../../core/websites/trackers/fix.ts';
import { ANSWERS, VisitCourse, VisitWish, type Lane } from '../../../core/websites/visits/visit.ts';
import type { Context } from '../../context.ts';
import type { JobKind, JobRun } from '../../jobs/runner.ts';
import { JsonColumn } from '../../store/columns.ts';
import { OutboundProxy } from '../crawl/browser/outbound-proxy.ts';
import { saidTags } from '../gate/said-tags.ts';
import { neededBy, readGate, sortedTrackers } from '../gate/site-gate.ts';
import { servedNotice } from '../notices/notices.ts';
import { listPurposes } from '../notices/purposes.ts';
import { readRegime } from '../notices/regimes.ts';
import { findSiteById } from '../sites/sites.ts';
import { sweepingPlan } from '../sweeps/sweep-job.ts';
import { endVisit } from './visit-store.ts';
import { walk, type WalkPlan } from './walk.ts';

const Payload = z.object({ visit: z.number() });
const MOST_BYTES = 25 * 1024 * 1024;

export const visitJob: JobKind = {
  kind: 'visit',
  lane: 'browser',
  see: 'websites.read',
  start: 'websites.sweep',
  work: async (ctx, run) => (await makeVisit(ctx, run)) as unknown as Json,
  ended: (tx, ctx, job, end) => {
    const course = 'result' in end ? VisitCourse.safeParse(end.result).data : undefined;
    const state = end.how === 'done' ? 'complete' : end.how === 'cancelled' ? 'cancelled' : 'failed';
    return endVisit(tx, ctx, Payload.parse(job.payload).visit, state, course);
  },
};

async function makeVisit(ctx: Context, run: JobRun): Promise<VisitCourse | null> {
  const { visit: id } = Payload.parse(run.job.payload);
  const row = await ctx.store.one(
    z.object({ site_id: z.number(), wish: JsonColumn(VisitWish) }),
    'SELECT site_id, wish FROM visit WHERE id = ?',
    [id],
  );
  if (!row) return null;
  await ctx.store.run("UPDATE visit SET state = 'running' WHERE id = ? AND state = 'waiting'", [id]);
  const { wish } = row;
  const site = await findSiteById(ctx.store, row.site_id);
  const regime = await readRegime(ctx.store, wish.region);
  const said = await saidTags(ctx.store, site.id);
  const served = await servedNotice(ctx.store, site.site_key, true);
  const gate = await readGate(ctx.store, site.id);
  const purposes = await listPurposes(ctx.store);
  const needs = neededBy(said, purposes);
  const script = `${ctx.settings.VISITOR_ORIGIN}/${site.site_key}.js`;
  const snippet = installSnippet(ctx.settings.VISITOR_ORIGIN, site.site_key);
  const guard = new OutboundProxy(sweepingPlan(ctx, site, wish.region).rules, MOST_BYTES);
  const begun = ctx.now().toISOString();
  const lanes: Lane[] = [];
  try {
    const plan: WalkPlan = {
      ...sweepingPlan(ctx, site, wish.region),
      ground: {
        siteHost: new URL(site.start_url).hostname,
        visitorHost: new URL(ctx.settings.VISITOR_ORIGIN).hostname,
        ...{ wish, regime, purposes, needs },
        sorted: asSaid(await sortedTrackers(ctx.store, site), needs),
        adapting: said.filter((t) => t.plan.reduced || t.plan.checks !== null),
      },
      proxy: await guard.listen(),
      campaign: gate.settings.campaign,
      // What has not gone live yet is shown as it would be.
      rewrite: (html) => installInPage(html, snippet, script),
    };
    for (const [i, answer] of ANSWERS.entries()) {
      const words = { refuse: 'refusing', accept: 'allowing all', choose: 'choosing' }[answer];
      run.progress({ words: `${words}, visitor ${i + 1} of 3`, share: i / 3, secondsLeft: null });
      lanes.push(await walk(plan, answer, run.signal));
      if (run.signal.aborted) return null;
    }
  } finally {
    await guard.close();
  }
  return {
    schema: 'yare-warden/visit/1',
    ...{ site: site.host, begun, wish, lanes },
    ...{ notice: served?.notice?.version ?? 0, regime: regime.regime, law: regime.law },
  };
}
