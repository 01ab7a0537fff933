import type { SitePaths } from '../../../core/websites/sweeps/click-path.ts';
import type { Region } from '../../../core/websites/notice/region.ts';
import type { Scope } from '../../../core/websites/sweeps/scope.ts';
import { choiceOf, type Visitor } from '../../../core/websites/trackers/visitor.ts';
import { Aliases } from './browser/aliases.ts';
import type { DestinationRules } from '../../http/allowed-destination.ts';
import { untilCalledOff } from './called-off.ts';
import type { Sighted } from './collector.ts';
import { visitorsAtOnce } from './crawl-limits.ts';
import { crawl } from './crawl.ts';
import { readSiteFiles } from './site-map.ts';
import { readNotice, type NoticeFound } from './notice/read-notice.ts';
import { firstLook, isLikely, type FirstLook } from './notice/way-trial.ts';
import type { SwitchToTry } from '../../../core/websites/reading/switch-run.ts';
import { sweepSwitches, type SwitchFound } from './sweep-switches.ts';
import { logFailure } from '../../processes/failure-log.ts';
import { several } from '../../processes/several.ts';
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
  /** What an earlier run finished: its visitors, the pages they saw, and what the one who accepted saw. */
  readonly done?: {
    readonly visitors: readonly Visitor[];
    readonly pages: readonly string[];
    /** Absent once the switches were tried, or where nobody has accepted. */
    readonly accepted?: readonly Sighted[] | undefined;
  };
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
 * Sweeps a site as each visitor, all of them on the pages that the first one found; what time is left is shared by those still to
 * come. Meanwhile the notice is read; once somebody has accepted, its switches are tried.
 */
export async function sweepSite(
  plan: SitePlan,
  signal: AbortSignal,
  progress: (p: SiteProgress) => void,
  sink: SweepSink,
): Promise<void> {
  const guard = new OutboundProxy(plan.rules, MOST_BYTES);
  try {
    const proxy = { url: await guard.listen(), guard };
    await new SiteSweep(plan, proxy, signal, progress, sink).run();
  } finally {
    await guard.close();
  }
}

type Common = Omit<CrawlPlan, 'visitor' | 'pages' | 'until' | 'picture' | 'onlySwitch'>;

class SiteSweep {
  readonly #end: number;
  readonly #stop = new AbortController();
  readonly #signal: AbortSignal;
  readonly #under = new Map<Visitor, CrawlProgress>();
  #common: Common;
  #pages: readonly string[] | undefined;
  #finished: number;
  #found: NoticeFound | undefined;
  /** Until the switches were tried, where an own choice waits for what they are for. */
  #switches = Promise.resolve();

  constructor(
    readonly plan: SitePlan,
    proxy: CrawlPlan['proxy'],
    readonly calledOff: AbortSignal,
    readonly progress: (p: SiteProgress) => void,
    readonly sink: SweepSink,
  ) {
    const { startUrl, scope, region, chosen, paths, tabs, executable, profiles, service, rewrite } = plan;
    this.#common = {
      ...{ startUrl, scope, region, chosen, paths, tabs, executable, profiles, service, rewrite },
      ...{ proxy, aliases: new Aliases(plan.nameServer), reading: null },
    };
    this.#end = Date.now() + scope.maxMinutes * 60_000;
    this.#pages = plan.done?.pages.length ? plan.done.pages : undefined;
    this.#finished = plan.done?.visitors.length ?? 0;
    this.#signal = AbortSignal.any([calledOff, this.#stop.signal]);
  }

  async run(): Promise<void> {
    const done = this.plan.done?.visitors ?? [];
    const left = this.plan.visitors.filter((v) => !done.includes(v));
    await this.#keepPace();
    const look = await this.#look();
    const reading = look ? this.#read(look) : Promise.resolve();
    const many = visitorsAtOnce(this.#common.scope);
    try {
      if (many === 1) await reading;
      // The one who finds the pages goes first, and alone.
      const alone = this.#pages === undefined ? left.splice(0, 1) : [];
      for (const first of alone) {
        if (choiceOf(first)) await reading;
        await this.#visit(first);
      }
    } finally {
      await reading;
    }
    const accepted = this.plan.done?.accepted;
    if (accepted) await this.#trySwitches(accepted);
    // Who waits for what the switches are for comes last.
    const order = [...left.filter((v) => v !== 'chosen'), ...left.filter((v) => v === 'chosen')];
    const failures: unknown[] = [];
    await several(order, many, async (v) => {
      if (failures.length > 0) return;
      await this.#visit(v).catch((error: unknown) => {
        failures.push(error);
        this.#stop.abort('failed');
      });
    });
    // Once all of them have let go of their browsers.
    if (failures.length > 0) throw failures[0];
  }

  /** The pause that the site asks robots for is kept by all visitors together. */
  async #keepPace(): Promise<void> {
    const { scope, startUrl, proxy } = this.#common;
    if (scope.robotsOverride !== '') return;
    const files = await this.#unlessOff('robots.txt of a site could not be read', () =>
      readSiteFiles(startUrl, proxy.url, false),
    );
    const paceMs = Math.max(scope.paceMs, files?.paceMs ?? 0);
    this.#common = { ...this.#common, scope: { ...scope, paceMs } };
  }

  async #visit(visitor: Visitor): Promise<void> {
    if (this.#signal.aborted) return;
    if (visitor === 'accepted') {
      let over = () => {};
      this.#switches = new Promise((tried) => (over = tried));
      try {
        const result = await this.#walk(visitor);
        if (result) await this.#trySwitches(result.sightings);
      } finally {
        over();
      }
      return;
    }
    if (visitor === 'chosen' && !this.#knowsSwitches()) await this.#switches;
    await this.#walk(visitor);
  }

  /** Whether for each purpose to be allowed a switch is known before they are tried. */
  #knowsSwitches(): boolean {
    const { reading } = this.#common;
    return !reading || this.plan.chosen.every((p) => reading.switches.some((s) => s.purpose === p));
  }

  /** `undefined` where the sweep goes no further. */
  async #walk(visitor: Visitor): Promise<CrawlResult | undefined> {
    if (this.#signal.aborted) return undefined;
    const left = this.plan.visitors.length - this.#finished;
    const turns = Math.ceil(left / visitorsAtOnce(this.#common.scope));
    const result = await crawl(
      {
        ...this.#common,
        visitor,
        until: fairShare(Date.now(), this.#end, this.#pages ? turns : left),
        pages: this.#pages,
        picture: true,
      },
      this.#signal,
      (p) => {
        this.#under.set(visitor, p);
        this.#tell();
      },
    ).catch((error: unknown) => {
      if (error instanceof PathError) error.visitor = visitor;
      throw error;
    });
    this.#under.delete(visitor);
    if (this.#stop.signal.aborted) return undefined;
    if (!(await this.sink.visitor(result))) {
      this.#stop.abort('no further');
      return undefined;
    }
    this.#finished++;
    const seen = result.pages.filter((p) => p.status !== null && p.status < 400).map((p) => p.url);
    if (seen.length > 0) this.#pages ??= seen;
    return result;
  }

  /** What the first visit sees of the notice, where a visitor has to answer it and no recorded path says how. */
  async #look(): Promise<FirstLook | undefined> {
    const choices = this.plan.visitors.map(choiceOf).filter((c) => c !== undefined);
    const recorded = choices.every((c) => this.plan.paths[c].length > 0);
    if (!this.plan.notice || recorded || this.#signal.aborted) return undefined;
    this.#tell('looking for the notice');
    const look = await this.#unlessOff('the notice of a site could not be looked for', () =>
      firstLook(this.#common),
    );
    const leaveAlone = look?.boxes.filter(isLikely).flatMap((b) => b.controls.map((c) => c.words));
    if (leaveAlone) this.#common = { ...this.#common, leaveAlone };
    return look;
  }

  async #read(look: FirstLook): Promise<void> {
    const { notice, tabs } = this.plan;
    const kept = notice?.kept ?? null;
    const until = Date.now() + (this.#end - Date.now()) * SHARE_OF_READING;
    const plan = {
      ground: this.#common,
      kept,
      parallel: this.#common.scope.paceMs > 0 ? 1 : tabs + 1,
      until,
      now: () => new Date(),
    };
    this.#found = await this.#unlessOff('the notice of a site could not be read', () =>
      readNotice(plan, look, this.#signal, (n) =>
        this.#tell(`reading the notice, ${n === 1 ? '1 way' : `${n} ways`} tried`),
      ),
    );
    if (!this.#found || !('reading' in this.#found)) return;
    this.#common = { ...this.#common, reading: this.#found.reading };
    await this.sink.reading?.(this.#found.reading);
  }

  /** Without it the visitors find the notice by its words, or tell what is the matter with the site. */
  async #unlessOff<T>(what: string, work: () => Promise<T>): Promise<T | undefined> {
    try {
      return await untilCalledOff(work(), this.#signal);
    } catch (error) {
      if (!this.#signal.aborted) logFailure(what, error);
      return undefined;
    }
  }

  async #trySwitches(accepted: readonly Sighted[]): Promise<void> {
    const switches = this.#found ? switchesOf(this.#found) : [];
    if (switches.length === 0 || this.plan.paths.choose.length > 0 || this.#signal.aborted) return;
    const tried = await sweepSwitches(
      { ...this.#common, until: Date.now() + Math.max(0, this.#end - Date.now()) * SHARE_OF_SWITCHES },
      switches,
      accepted,
      this.#signal,
      (n, of) => this.#tell(`switch ${n + 1} of ${of} on the notice`),
      this.plan.notice?.library,
    );
    if (this.#stop.signal.aborted) return;
    await this.sink.switches?.(tried);
    const { reading } = this.#common;
    if (!reading) return;
    const told = withPurposes(reading, tried);
    this.#common = { ...this.#common, reading: told };
    await this.sink.reading?.(told);
  }

  #tell(doing?: string): void {
    const walks = [...this.#under.values()];
    const sum = (of: (p: CrawlProgress) => number) => walks.reduce((n, p) => n + of(p), 0);
    const parts = sum((p) => Math.min(1, p.pages / Math.max(1, p.known)));
    const visitors = this.plan.visitors.length;
    this.progress({
      pages: sum((p) => p.pages),
      known: sum((p) => p.known),
      trackers: Math.max(0, ...walks.map((p) => p.trackers)),
      visitor: Math.min(visitors, this.#finished + Math.max(1, walks.length)),
      visitors,
      share: Math.min(1, (this.#finished + parts) / visitors),
      ...(doing === undefined ? {} : { doing }),
    });
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
