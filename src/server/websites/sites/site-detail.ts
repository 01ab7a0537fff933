import { installSnippet } from '../../../core/websites/trackers/install.ts';
import type { SitePaths } from '../../../core/websites/sweeps/click-path.ts';
import type { NoticeReading } from '../../../core/websites/reading/notice-reading.ts';
import type { Schedule } from '../../../core/schedule/schedule.ts';
import type { Scope } from '../../../core/websites/sweeps/scope.ts';
import type { Purpose } from '../../../core/websites/notice/purpose.ts';
import type { Stage } from '../../../core/rules/rule.ts';
import type { Context } from '../../context.ts';
import { findNotice } from '../notices/notices.ts';
import { listPurposes } from '../notices/purposes.ts';
import { findSite, type InstallResult } from './sites.ts';
import { latestSweeps, listSweeps, troubledPages, type Sweep } from '../sweeps/sweeps.ts';
import { readAddresses } from './site-addresses.ts';
import { hidePaths } from './site-paths.ts';
import { countTrackers, NO_TRACKERS, sweptPurposes, type TrackerCounts } from '../trackers/trackers.ts';

/** What the sheet of a site needs at once. */
export interface SiteDetail {
  readonly host: string;
  readonly name: string;
  readonly startUrl: string;
  readonly siteKey: string;
  readonly snippet: string;
  readonly visitorOrigin: string;
  readonly scope: Scope;
  readonly region: string;
  readonly chosen: readonly string[];
  /** Secrets show as `…`. */
  readonly paths: SitePaths;
  /** How its notice is read; `null` until a sweep has read one. */
  readonly reading: NoticeReading | null;
  readonly schedule: Schedule | null;
  readonly nextSweep: string | null;
  readonly install: InstallResult | null;
  readonly stage: Stage;
  /** Nobody looks after it any more. */
  readonly retired: boolean;
  readonly purposes: readonly Purpose[];
  readonly counts: TrackerCounts;
  /** Purposes that the newest sweep found something for. */
  readonly sweptPurposes: readonly string[];
  /** The newest sweep that found something. */
  readonly sweep: Sweep | null;
  readonly sweeps: readonly Sweep[];
  readonly troubled: Awaited<ReturnType<typeof troubledPages>>;
}

export async function siteDetail(ctx: Context, host: string): Promise<SiteDetail> {
  const { store, settings } = ctx;
  const site = await findSite(store, host);
  const [[sweep], sweeps, notice, purposes] = await Promise.all([
    latestSweeps(store, site.id),
    listSweeps(store, site.id, 20),
    findNotice(store, host),
    listPurposes(store),
  ]);
  return {
    host: site.host,
    name: site.name,
    startUrl: site.start_url,
    siteKey: site.site_key,
    snippet: installSnippet(settings.VISITOR_ORIGIN, site.site_key),
    visitorOrigin: settings.VISITOR_ORIGIN,
    scope: site.scope,
    region: site.region,
    chosen: site.chosen,
    paths: hidePaths(site.paths),
    reading: site.reading,
    schedule: site.schedule,
    nextSweep: site.next_sweep,
    install: site.install,
    stage: notice.stage,
    retired: (await readAddresses(store, site.id)).retiredAt !== null,
    purposes,
    sweeps,
    sweep: sweep ?? null,
    sweptPurposes: sweep ? await sweptPurposes(store, sweep.id) : [],
    counts: sweep ? await countTrackers(store, sweep.id) : NO_TRACKERS,
    troubled: sweep ? await troubledPages(store, sweep.id) : [],
  };
}
