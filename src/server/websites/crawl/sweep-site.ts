import type { SitePaths } from '../../../core/websites/sweeps/click-path.ts';
import type { Region } from '../../../core/websites/notice/region.ts';
import type { Scope } from '../../../core/websites/sweeps/scope.ts';
import type { Visitor } from '../../../core/websites/trackers/visitor.ts';
import { Aliases } from './browser/aliases.ts';
import type { DestinationRules } from '../../http/allowed-destination.ts';
import { crawl } from './crawl.ts';
import type { CrawlPlan, CrawlProgress, CrawlResult } from './crawl-plan.ts';
import { PathError } from './visit/click-path-player.ts';
import { OutboundProxy } from './browser/outbound-proxy.ts';

export interface SitePlan {
  readonly startUrl: string;
  readonly scope: Scope;
  readonly visitors: readonly Visitor[];
  readonly region: Region;
  readonly chosen: readonly string[];
  readonly paths: SitePaths;
  readonly tabs: number;
  readonly executable: string;
  readonly profiles: string;
  readonly rules: DestinationRules;
  readonly nameServer: string | undefined;
  readonly service: CrawlPlan['service'];
  readonly rewrite?: CrawlPlan['rewrite'];
  /** Visitors that an earlier run finished, with the pages they saw. */
  readonly done?: { readonly visitors: readonly Visitor[]; readonly pages: readonly string[] };
}

export interface SiteProgress extends CrawlProgress {
  /** 1 for the first visitor. */
  readonly visitor: number;
  readonly visitors: number;
  /** Of the whole, in [0, 1]. */
  readonly share: number;
}

const MOST_BYTES = 25 * 1024 * 1024;

/**
 * Sweeps a site as each visitor in turn, all of them on the pages that the first one found; what time is left is shared by
 * those still to come. `store` gets each visitor's
 * outcome as soon as it is there; it returns `false` to go no further.
 */
export async function sweepSite(
  plan: SitePlan,
  signal: AbortSignal,
  progress: (p: SiteProgress) => void,
  store: (result: CrawlResult) => Promise<boolean>,
): Promise<void> {
  const guard = new OutboundProxy(plan.rules, MOST_BYTES);
  const proxy = { url: await guard.listen(), guard };
  const aliases = new Aliases(plan.nameServer);
  const end = Date.now() + plan.scope.maxMinutes * 60_000;
  const done = plan.done?.visitors ?? [];
  let pages: readonly string[] | undefined = plan.done?.pages.length ? plan.done.pages : undefined;
  let finished = done.length;
  try {
    for (const visitor of plan.visitors) {
      if (done.includes(visitor) || signal.aborted) continue;
      const result = await crawl(
        {
          startUrl: plan.startUrl,
          scope: plan.scope,
          visitor,
          region: plan.region,
          chosen: plan.chosen,
          paths: plan.paths,
          until: fairShare(Date.now(), end, plan.visitors.length - finished),
          tabs: plan.tabs,
          pages,
          executable: plan.executable,
          profiles: plan.profiles,
          proxy,
          aliases,
          service: plan.service,
          rewrite: plan.rewrite,
          picture: true,
        },
        signal,
        (p) => {
          const share = (finished + Math.min(1, p.pages / Math.max(1, p.known))) / plan.visitors.length;
          progress({ ...p, visitor: finished + 1, visitors: plan.visitors.length, share });
        },
      ).catch((error: unknown) => {
        if (error instanceof PathError) error.visitor = visitor;
        throw error;
      });
      if (!(await store(result))) return;
      const seen = result.pages.filter((p) => p.status !== null && p.status < 400).map((p) => p.url);
      if (seen.length > 0) pages ??= seen;
      finished++;
    }
  } finally {
    await guard.close();
  }
}

/** Until when one of the visitors still to come may go on, so that all of them get as much of what is left. */
export function fairShare(now: number, end: number, visitors: number): number {
  return now + Math.max(0, end - now) / Math.max(1, visitors);
}
