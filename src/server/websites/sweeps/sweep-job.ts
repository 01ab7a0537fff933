import { join } from 'node:path';
import { z } from 'zod';
import type { Json } from '../../../core/rules/change.ts';
import type { Context } from '../../context.ts';
import { FinalError, type JobKind, type JobRun } from '../../jobs/runner.ts';
import { rehearsalToken } from '../visitor/rehearsal-token.ts';
import { observedIn, storeCrawl } from '../trackers/sightings.ts';
import { storeSwitches } from '../trackers/ran-with.ts';
import { readLibrary } from '../library/known-trackers.ts';
import { keepReading } from '../sites/site-reading.ts';
import { openPaths } from '../sites/site-paths.ts';
import { findSiteById, type Site } from '../sites/sites.ts';
import { endSweep } from './sweep-end.ts';
import { destinationRules } from '../../http/allowed-destination.ts';
import type { CrawlResult } from '../crawl/crawl-plan.ts';
import { sweepSite, type SitePlan } from '../crawl/sweep-site.ts';
import { beginSweep, findSweep, visitorsDone, type Sweep } from './sweeps.ts';

const Payload = z.object({ sweep: z.number() });

export const sweepJob: JobKind = {
  kind: 'sweep',
  lane: 'browser',
  see: 'websites.read',
  start: 'websites.sweep',
  work: runSweep,
  ended: (tx, ctx, job, end) =>
    endSweep(
      tx,
      ctx,
      Payload.parse(job.payload).sweep,
      end.how === 'done' ? 'complete' : end.how === 'cancelled' ? 'cancelled' : 'failed',
      'error' in end ? end.error : undefined,
    ),
};

/** What a sweep of this site needs besides its scope. */
export function sweepingPlan(
  ctx: Context,
  site: Site,
  region: string,
): Pick<
  SitePlan,
  'startUrl' | 'paths' | 'tabs' | 'executable' | 'profiles' | 'rules' | 'nameServer' | 'service'
> {
  const { settings } = ctx;
  return {
    startUrl: site.start_url,
    paths: openPaths(settings.SECRET_KEY, site.paths),
    tabs: settings.SWEEP_TABS,
    executable: settings.CHROMIUM,
    profiles: join(settings.DATA_DIR, 'profiles'),
    rules: destinationRules(settings),
    nameServer: settings.DNS_SERVER || undefined,
    service: {
      origin: settings.VISITOR_ORIGIN,
      headers: {
        'x-yare-rehearsal': rehearsalToken(settings.SECRET_KEY, site.site_key, ctx.now()),
        [settings.REGION_HEADER]: region,
      },
    },
  };
}

async function runSweep(ctx: Context, run: JobRun): Promise<Json> {
  const { sweep: id } = Payload.parse(run.job.payload);
  const sweep = await findSweep(ctx.store, id);
  if (sweep.finished_at !== null) return { sweep: id };
  const site = await findSiteById(ctx.store, sweep.site_id);
  await beginSweep(ctx, id);
  const begun = Date.now();
  await sweepSite(
    {
      ...sweepingPlan(ctx, site, sweep.region),
      scope: sweep.scope,
      visitors: sweep.visitors,
      region: sweep.region,
      chosen: sweep.chosen,
      notice: { kept: site.reading, library: await readLibrary(ctx.store) },
      done: await doneBefore(ctx, sweep),
    },
    run.signal,
    (p) =>
      run.progress({
        words:
          p.doing ??
          `visitor ${p.visitor} of ${p.visitors}, page ${p.pages} of ${p.known}, ${p.trackers} trackers`,
        share: p.share,
        secondsLeft:
          p.share > 0.05 ? Math.round((((Date.now() - begun) / p.share) * (1 - p.share)) / 1000) : null,
      }),
    {
      visitor: async (result) => {
        const reason = run.signal.aborted ? run.signal.reason : undefined;
        // Half a visitor is kept when somebody cancelled, and done again when the work goes on elsewhere.
        if (reason === 'lost' || reason === 'stopping') return false;
        await storeCrawl(ctx, sweep, result);
        if (!reason) failIfNothingLoaded(result);
        return true;
      },
      reading: (reading) => keepReading(ctx, sweep, reading),
      switches: (found) => storeSwitches(ctx, sweep, found),
    },
  );
  return { sweep: id };
}

/** What an earlier run of the same sweep finished before its work went on here. */
async function doneBefore(ctx: Context, sweep: Sweep): Promise<NonNullable<SitePlan['done']>> {
  const done = await visitorsDone(ctx.store, sweep.id);
  if (sweep.switches.length > 0 || !done.visitors.includes('accepted')) return done;
  const accepted = (await observedIn(ctx.store, sweep.id)).flatMap(
    ({ tracker: { kind, name, host, sightings } }) =>
      sightings.filter((s) => s.visitor === 'accepted').map((sighting) => ({ kind, name, host, sighting })),
  );
  return { ...done, accepted };
}

function failIfNothingLoaded(result: CrawlResult): void {
  if (!result.couldChoose || result.pages.some((p) => p.status !== null)) return;
  throw new FinalError(`No page could be loaded: ${result.pages[0]?.note || 'the site did not answer'}.`);
}
