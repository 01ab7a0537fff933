import { installSnippet } from '../../core/websites/install.ts';
import type { Purpose } from '../../core/websites/purpose.ts';
import type { Stage } from '../../core/rule.ts';
import type { Context } from '../context.ts';
import { findNotice } from './notices.ts';
import { listPurposes } from './purposes.ts';
import { findSite, type InstallResult } from './sites.ts';
import { latestSweeps, listSweeps, troubledPages, type Sweep } from './sweeps.ts';
import { countTrackers, type TrackerCounts } from './trackers.ts';

/** What the sheet of a site needs at once. */
export interface SiteDetail {
  readonly host: string;
  readonly name: string;
  readonly startUrl: string;
  readonly siteKey: string;
  readonly snippet: string;
  readonly visitorOrigin: string;
  readonly maxPages: number;
  readonly maxMinutes: number;
  readonly install: InstallResult | null;
  readonly stage: Stage;
  readonly purposes: readonly Purpose[];
  readonly counts: TrackerCounts;
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
    maxPages: site.max_pages,
    maxMinutes: site.max_minutes,
    install: site.install,
    stage: notice.stage,
    purposes,
    sweeps,
    sweep: sweep ?? null,
    counts: sweep ? await countTrackers(store, sweep.id) : { all: 0, leaks: 0, unsorted: 0 },
    troubled: sweep ? await troubledPages(store, sweep.id) : [],
  };
}
