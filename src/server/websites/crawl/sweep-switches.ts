import { pageCover } from '../../../core/websites/reading/page-cover.ts';
import type { SwitchRun, SwitchToTry } from '../../../core/websites/reading/switch-run.ts';
import { votedPurpose } from '../../../core/websites/trackers/proposal.ts';
import type { TrackerLibrary } from '../../../core/websites/trackers/known-tracker.ts';
import {
  trackerKey,
  type ObservedTracker,
  type TrackerKey,
} from '../../../core/websites/trackers/tracker.ts';
import { joinSightings, type Sighted } from './collector.ts';
import { several } from '../../processes/several.ts';
import { visitorsAtOnce } from './crawl-limits.ts';
import { crawl } from './crawl.ts';
import type { CrawlPlan } from './crawl-plan.ts';

/** What a switch let run, each tracker as it is called over all visitors. */
export type SwitchFound = SwitchRun & { readonly trackers: readonly TrackerKey[] };

const MOST_SWITCHES = 8;
const MOST_PAGES = 12;

/**
 * Comes once for each switch of the notice, with it alone on, to the few pages on which `accepted` saw everything: what
 * runs then belongs to it. A switch whose visit did not come to an end is left out.
 */
export async function sweepSwitches(
  plan: Omit<CrawlPlan, 'visitor' | 'pages' | 'onlySwitch' | 'picture'>,
  switches: readonly SwitchToTry[],
  accepted: readonly Sighted[],
  signal: AbortSignal,
  progress: (tried: number, of: number) => void,
  library?: Pick<TrackerLibrary, 'find'>,
): Promise<readonly SwitchFound[]> {
  const pages = pageCover(accepted, MOST_PAGES);
  if (pages.length === 0) return [];
  const tried = switches.slice(0, MOST_SWITCHES);
  const found = await several(tried, visitorsAtOnce(plan.scope), async (s, i) => {
    if (signal.aborted || Date.now() >= plan.until) return undefined;
    progress(i, tried.length);
    return tryOne(plan, s, pages, accepted, signal);
  });
  return voted(
    found.filter((f) => f !== undefined),
    joinSightings([accepted]),
    library,
  );
}

/** `undefined` where its visit did not come to an end. */
async function tryOne(
  plan: Omit<CrawlPlan, 'visitor' | 'pages' | 'onlySwitch' | 'picture'>,
  { words, purpose, by }: SwitchToTry,
  pages: readonly string[],
  accepted: readonly Sighted[],
  signal: AbortSignal,
): Promise<SwitchFound | undefined> {
  const result = await crawl(
    {
      ...plan,
      visitor: 'chosen',
      chosen: purpose === null ? [] : [purpose],
      ...(plan.reading ? { onlySwitch: words } : {}),
      scope: { ...plan.scope, maxPages: pages.length + 1, startPaths: [], perShape: null },
      pages,
      picture: false,
    },
    signal,
    () => {},
  );
  if (!result.couldChoose || result.incomplete || signal.aborted) return undefined;
  const trackers = joinSightings([accepted, result.sightings])
    .filter((t) => t.sightings.some((x) => x.visitor === 'chosen'))
    .map(({ kind, name, host }): TrackerKey => ({ kind, name, host }));
  return { words, purpose, by, pages: result.pages.length, trackers };
}

/** With what each switch is for, where its words did not tell, by what runs with it and not with all of them. */
function voted(
  found: readonly SwitchFound[],
  observed: readonly ObservedTracker[],
  library: Pick<TrackerLibrary, 'find'> | undefined,
): readonly SwitchFound[] {
  const ranWith = found.map((f) => new Set(f.trackers.map(trackerKey)));
  return found.map((f, i) => {
    if (f.purpose !== null) return f;
    const mine = observed.filter((t) => {
      const key = trackerKey(t);
      return ranWith[i]?.has(key) && (found.length === 1 || !ranWith.every((r) => r.has(key)));
    });
    const purpose = votedPurpose(mine, (t) => ({ known: library?.find(t) }));
    return purpose === null ? f : { ...f, purpose, by: 'trial' };
  });
}
