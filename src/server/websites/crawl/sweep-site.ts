import type { SitePaths } from '../../../core/websites/sweeps/click-path.ts';
import type { Region } from '../../../core/websites/notice/region.ts';
import type { Scope } from '../../../core/websites/sweeps/scope.ts';
import { choiceOf, type Visitor } from '../../../core/websites/trackers/visitor.ts';
import { Aliases } from './browser/aliases.ts';
import type { DestinationRules } from '../../http/allowed-destination.ts';
import { untilCalledOff } from './called-off.ts';
import { crawl } from './crawl.ts';
import { readNotice, type NoticeFound } from './notice/read-notice.ts';
import { sweepSwitches, type SwitchFound, type SwitchToTry } from './sweep-switches.ts';
import { logFailure } from '../../processes/failure-log.ts';
import type { NoticeReading } from '../../../core/websites/reading/notice-reading.ts';
import type { TrackerLibrary } from '../../../core/websites/trackers/known-tracker.ts';
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
  /** Has the site's notice read, and its switches tried one by one; without it only words tell what to press. */
  readonly notice?: {
    /** How it was read before. */
    readonly kept: NoticeReading | null;
    readonly library: Pick<TrackerLibrary, 'find'>;
  };
  /** Visitors that an earlier run finished, with the pages they saw. */
  readonly done?: { readonly visitors: readonly Visitor[]; readonly pages: readonly string[] };
}

/** Where what a sweep finds goes, as soon as it is there. */
export interface SweepSink {
  /** Each visitor's outcome; `false` to go no further. */
  visitor(result: CrawlResult): Promise<boolean>;
  /** How the notice was read; not called where there is nothing to read. */
  reading?(reading: NoticeReading): Promise<void>;
  /** What each switch of the notice let run. */
  switches?(found: readonly SwitchFound[]): Promise<void>;
}

export interface SiteProgress extends CrawlProgress {
  /** 1 for the first visitor. */
  readonly visitor: number;
  readonly visitors: number;
  /** Of the whole, in [0, 1]. */
  readonly share: number;
  /** What is done between the visitors, in words. */
  readonly doing?: string;
}

const MOST_BYTES = 25 * 1024 * 1024;

/** Of a sweep's time that reading the notice may take, and trying its switches. */
const SHARE_OF_READING = 0.25;
const SHARE_OF_SWITCHES = 0.3;

/**
 * Sweeps a site as each visitor in turn, all of them on the pages that the first one found; what time is left is shared by
 * those still to come. Before that the notice is read, and after the visitor who accepts its switches are tried.
 */
export async function sweepSite(
  plan: SitePlan,
  signal: AbortSignal,
  progress: (p: SiteProgress) => void,
  sink: SweepSink,
): Promise<void> {
  const guard = new OutboundProxy(plan.rules, MOST_BYTES);
  const proxy = { url: await guard.listen(), guard };
  const aliases = new Aliases(plan.nameServer);
  const end = Date.now() + plan.scope.maxMinutes * 60_000;
  const done = plan.done?.visitors ?? [];
  let pages: readonly string[] | undefined = plan.done?.pages.length ? plan.done.pages : undefined;
  let finished = done.length;
  const { startUrl, scope, region, chosen, paths, tabs, executable, profiles, service, rewrite } = plan;
  let common = {
    ...{
      startUrl,
      scope,
      region,
      chosen,
      paths,
      tabs,
      executable,
      profiles,
      service,
      rewrite,
      proxy,
      aliases,
    },
    reading: null as NoticeReading | null,
  };
  const told = { pages: 0, known: 0, trackers: 0, visitors: plan.visitors.length };
  try {
    const found = await readFirst(plan, common, end, signal, (words) =>
      progress({ ...told, visitor: finished + 1, share: finished / plan.visitors.length, doing: words }),
    );
    if (found && 'reading' in found) {
      common = { ...common, reading: found.reading };
      await sink.reading?.(found.reading);
    }
    for (const visitor of plan.visitors) {
      if (done.includes(visitor) || signal.aborted) continue;
      const result = await crawl(
        {
          ...common,
          visitor,
          until: fairShare(Date.now(), end, plan.visitors.length - finished),
          pages,
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
      if (!(await sink.visitor(result))) return;
      const seen = result.pages.filter((p) => p.status !== null && p.status < 400).map((p) => p.url);
      if (seen.length > 0) pages ??= seen;
      finished++;
      const switches = found ? switchesOf(found) : [];
      if (visitor !== 'accepted' || switches.length === 0 || paths.choose.length > 0 || signal.aborted)
        continue;
      const tried = await sweepSwitches(
        { ...common, until: Date.now() + Math.max(0, end - Date.now()) * SHARE_OF_SWITCHES },
        switches,
        result.sightings,
        signal,
        (n, of) =>
          progress({
            ...{ ...told, pages: result.pages.length, known: result.pages.length },
            ...{ visitor: finished, share: finished / plan.visitors.length },
            doing: `switch ${n + 1} of ${of} on the notice`,
          }),
        plan.notice?.library,
      );
      await sink.switches?.(tried);
      if (common.reading) {
        common = { ...common, reading: withPurposes(common.reading, tried) };
        await sink.reading?.(common.reading as NoticeReading);
      }
    }
  } finally {
    await guard.close();
  }
}

/** Reads the notice, where a visitor has to answer it and no recorded path says how. */
async function readFirst(
  plan: SitePlan,
  common: Omit<CrawlPlan, 'visitor' | 'pages' | 'until' | 'picture'>,
  end: number,
  signal: AbortSignal,
  progress: (words: string) => void,
): Promise<NoticeFound | undefined> {
  const choices = plan.visitors.map(choiceOf).filter((c) => c !== undefined);
  if (!plan.notice || choices.every((c) => plan.paths[c].length > 0) || signal.aborted) return undefined;
  progress('reading the notice');
  try {
    const work = readNotice(
      {
        ground: common,
        kept: plan.notice.kept,
        parallel: plan.tabs + 1,
        until: Date.now() + (end - Date.now()) * SHARE_OF_READING,
        now: () => new Date(),
      },
      signal,
      (n) => progress(`reading the notice, ${n === 1 ? '1 way' : `${n} ways`} tried`),
    );
    return await untilCalledOff(work, signal);
  } catch (error) {
    // The visitors find it by its words, or tell what is the matter with the site.
    if (!signal.aborted) logFailure('the notice of a site could not be read', error);
    return undefined;
  }
}

function switchesOf(found: NoticeFound): readonly SwitchToTry[] {
  if (found.found === 'own') return found.switches;
  if (!('reading' in found) || !found.reading.roles.choose) return [];
  return found.reading.switches.filter((s) => !s.locked);
}

/** The reading, with what its switches turned out to be for. */
function withPurposes(reading: NoticeReading, tried: readonly SwitchFound[]): NoticeReading {
  const switches = reading.switches.map((s) => {
    const run = tried.find((t) => t.words === s.words);
    return run && s.purpose === null ? { ...s, purpose: run.purpose, by: run.by } : s;
  });
  return { ...reading, switches };
}

/** Until when one of the visitors still to come may go on, so that all of them get as much of what is left. */
export function fairShare(now: number, end: number, visitors: number): number {
  return now + Math.max(0, end - now) / Math.max(1, visitors);
}
