import { join } from 'node:path';
import { z } from 'zod';
import type { Json } from '../../core/change.ts';
import { VISITORS } from '../../core/websites/visitor.ts';
import type { Context } from '../context.ts';
import { FinalError, type JobKind, type JobRun } from '../jobs/runner.ts';
import { findSiteById } from './sites.ts';
import { crawl, type CrawlResult } from './sweep/crawl.ts';
import { destinationRules } from './sweep/allowed-destination.ts';
import { OutboundProxy } from './sweep/outbound-proxy.ts';
import { rehearsalToken } from './rehearsal-token.ts';
import { beginSweep, endSweep, findSweep, storeCrawl, visitorsDone } from './sweeps.ts';

const PACE_MS = 120;
const MOST_BYTES = 25 * 1024 * 1024;

const Payload = z.object({ sweep: z.number() });

export const sweepJob: JobKind = {
  kind: 'sweep',
  work: runSweep,
  failed: async (ctx, job, error) => endSweep(ctx, Payload.parse(job.payload).sweep, 'failed', error),
};

async function runSweep(ctx: Context, run: JobRun): Promise<Json> {
  const { sweep: id } = Payload.parse(run.job.payload);
  const sweep = await findSweep(ctx.store, id);
  const site = await findSiteById(ctx.store, sweep.site_id);
  await beginSweep(ctx, id);
  const done = await visitorsDone(ctx.store, id);
  const begun = Date.now();
  const until = begun + sweep.max_seconds * 1000;
  const guard = new OutboundProxy(destinationRules(ctx.settings), MOST_BYTES);
  const proxy = { url: await guard.listen(), guard };
  let pages = done.visitors.includes('before') ? done.pages : undefined;
  let finished = done.visitors.length;
  try {
    for (const visitor of VISITORS) {
      if (done.visitors.includes(visitor) || run.signal.aborted) continue;
      const result = await crawl(
        {
          startUrl: site.start_url,
          visitor,
          maxPages: sweep.max_pages,
          until,
          tabs: ctx.settings.SWEEP_TABS,
          paceMs: PACE_MS,
          pages,
          executable: ctx.settings.CHROMIUM,
          profiles: join(ctx.settings.DATA_DIR, 'profiles'),
          proxy,
          rehearsal: {
            origin: ctx.settings.VISITOR_ORIGIN,
            token: rehearsalToken(ctx.settings.SECRET_KEY, site.site_key, ctx.now()),
          },
        },
        run.signal,
        (p) => {
          const share = (finished + Math.min(1, p.pages / Math.max(1, p.known))) / VISITORS.length;
          run.progress({
            words: `visitor ${finished + 1} of ${VISITORS.length}, page ${p.pages} of ${p.known}, ${p.trackers} trackers`,
            share,
            secondsLeft:
              share > 0.05 ? Math.round((((Date.now() - begun) / share) * (1 - share)) / 1000) : null,
          });
        },
      );
      const reason = run.signal.aborted ? run.signal.reason : undefined;
      // Half a visitor is kept when somebody cancelled, and done again when the work goes on elsewhere.
      if (reason === 'lost' || reason === 'stopping') return {};
      await storeCrawl(ctx, sweep, result);
      if (visitor === 'before') {
        if (!reason) failIfNothingLoaded(result);
        pages = result.pages.filter((p) => p.status !== null && p.status < 400).map((p) => p.url);
      }
      finished++;
    }
  } finally {
    await guard.close();
  }
  await endSweep(ctx, id, run.signal.aborted ? 'cancelled' : 'complete');
  return { sweep: id };
}

function failIfNothingLoaded(result: CrawlResult): void {
  if (result.pages.some((p) => p.status !== null)) return;
  throw new FinalError(`No page could be loaded: ${result.pages[0]?.note || 'the site did not answer'}.`);
}
