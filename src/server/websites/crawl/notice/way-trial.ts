import type { BrowserContext, Page } from 'playwright-core';
import { localeOf, type Region } from '../../../../core/websites/notice/region.ts';
import type { NoticeWay } from '../../../../core/websites/reading/notice-way.ts';
import type { Outcome } from '../../../../core/websites/reading/notice-reading.ts';
import { trackerKey } from '../../../../core/websites/trackers/tracker.ts';
import { pause } from '../../../processes/pause.ts';
import { inTime, within } from '../../../processes/within.ts';
import { startVisit } from '../browser/chromium.ts';
import { Collector } from '../collector.ts';
import type { CrawlPlan } from '../crawl-plan.ts';
import type { SwitchToTry } from '../../../../core/websites/reading/switch-run.ts';
import { loadSurely } from '../page/load-page.ts';
import type { PageProbe } from '../page/page-probe.ts';
import { openTab } from '../page/open-tab.ts';
import { clearStanding, readJar, standingBefore } from '../visit/kept-before.ts';
import { openOwn } from './notice-operator.ts';
import { awaitBoxes, canDo, goWay, lookForBoxes, marksOf, type BoxThere } from './notice-hand.ts';

/** Where the ways through a notice are tried. */
export type TrialGround = Pick<
  CrawlPlan,
  'startUrl' | 'region' | 'executable' | 'profiles' | 'proxy' | 'service' | 'rewrite'
>;

export type SeenBox = BoxThere & { readonly late: boolean };

/** What the first visit to a site saw. */
export interface FirstLook {
  /** The switches of the organisation's own notice, where that is there. */
  readonly own: readonly SwitchToTry[] | undefined;
  /** Likeliest first; `late`: it came only after a while. */
  readonly boxes: readonly SeenBox[];
  /** Trackers that ran before any answer, by their keys. */
  readonly before: ReadonlySet<string>;
}

export interface Trial {
  readonly outcome: Outcome | 'not there';
  /** What opened. */
  readonly box: BoxThere | undefined;
  /** Trackers that ran after the answer, each key with a name to be read. */
  readonly ran: ReadonlyMap<string, string>;
  readonly size: number;
}

const NOTICE_MS = 2500;
const LATE_MS = 1500;
const SETTLE_MS = 4000;
const STAY_MS = 60_000;
const MOST_TRIAL_MS = 60_000;
const MOST_TIMERS = 60;

/** Looks at the start page as a new visitor, and what is there to answer. */
export async function firstLook(ground: TrialGround): Promise<FirstLook> {
  return onSite(ground, async ({ page, probe, collector, context }) => {
    await probe.settled(150, SETTLE_MS);
    const own = await ownSwitches(page);
    const early = own ? [] : await awaitBoxes(probe.world, NOTICE_MS, isLikely);
    let boxes = early.map((b) => ({ ...b, late: false }));
    if (!own && !early.some((b) => b.asks)) {
      // What asks may come after a while, or once somebody moves, beside what has come by then.
      await lingerOn(page, probe);
      const known = new Set(early.map(marksOf));
      const isNew = (b: BoxThere) => !known.has(marksOf(b));
      const after = await awaitBoxes(probe.world, LATE_MS, (b) => isLikely(b) && isNew(b));
      boxes = [...boxes, ...after.filter(isNew).map((b) => ({ ...b, late: true }))];
    }
    await readInto(collector, page, probe, ground);
    collector.finish(await within(3000, readJar(context), []), ground.startUrl, Date.now() / 1000);
    return {
      own,
      boxes: boxes.toSorted((x, y) => y.score - x.score),
      before: new Set(keysOf(collector).keys()),
    };
  });
}

/** What our notice asks about; `undefined` where it is not there. Its purposes are its own words. */
async function ownSwitches(page: Page): Promise<readonly SwitchToTry[] | undefined> {
  if (!(await openOwn(page))) return undefined;
  const notice = page.locator('yare-notice');
  const boxes = await notice.locator('input[type="checkbox"]:not(:disabled)').all();
  return Promise.all(
    boxes.map(async (box) => {
      const purpose = (await box.inputValue({ timeout: 1000 })).slice(0, 31);
      const label = await box.evaluate((e) => (e as HTMLInputElement).labels?.[0]?.textContent ?? '');
      return { words: (label.trim() || purpose).slice(0, 120), purpose, by: 'words' as const };
    }),
  ).catch(() => []);
}

/** More than a box that only stands over the page. */
export function isLikely(b: BoxThere): boolean {
  return b.score >= 2.4;
}

/** Goes one way through the notice in a clean profile, and on to another page, and tells what ran after it. */
export async function tryWay(ground: TrialGround, way: NoticeWay, late: boolean): Promise<Trial> {
  return onSite(ground, async ({ page, probe, collector, context }) => {
    await probe.settled(150, SETTLE_MS);
    await reachNotice(page, probe, way, late);
    const standing = await standingBefore(context, probe.world);
    const there = await lookForBoxes(probe.world);
    probe.forget();
    probe.moment = 'click';
    const went = await goWay(page, probe.world, way);
    const nothing = { box: undefined, ran: new Map<string, string>(), size: went.size };
    if (went.outcome === 'opens') return { ...nothing, outcome: 'opens', box: went.box };
    if (went.outcome !== 'gone') return { ...nothing, outcome: went.outcome };
    await probe.settled(250, SETTLE_MS);
    await within(SETTLE_MS, probe.passTime(STAY_MS, MOST_TIMERS), 0);
    await probe.settled(100, SETTLE_MS);
    await readInto(collector, page, probe, ground);
    await clearStanding(context, probe.world, standing);
    await comeAgain(page, probe, collector, ground);
    const asked = await asksAgain(page, probe, way, there, late);
    await readInto(collector, page, probe, ground);
    collector.finish(await within(3000, readJar(context), []), ground.startUrl, Date.now() / 1000);
    return { ...nothing, outcome: asked ? 'closes' : 'answers', ran: keysOf(collector) };
  });
}

/** Waits for the notice as it came at the first look. */
export async function reachNotice(
  page: Page,
  probe: PageProbe,
  way: NoticeWay,
  late: boolean,
): Promise<void> {
  const [first] = way;
  const wanted = (b: BoxThere) => first !== undefined && canDo(b, first);
  if (late) {
    await pause(NOTICE_MS / 2);
    await lingerOn(page, probe);
  }
  await awaitBoxes(probe.world, late ? LATE_MS : NOTICE_MS + LATE_MS, wanted);
}

async function asksAgain(
  page: Page,
  probe: PageProbe,
  way: NoticeWay,
  before: readonly BoxThere[],
  late: boolean,
): Promise<boolean> {
  const [first] = way;
  if (!first || !before.some((b) => canDo(b, first))) return false;
  if (late) await lingerOn(page, probe);
  const boxes = await awaitBoxes(probe.world, late ? LATE_MS : 600, (b) => canDo(b, first));
  return boxes.some((b) => canDo(b, first));
}

/** Stays, moves and scrolls, as whoever reads does. */
async function lingerOn(page: Page, probe: PageProbe): Promise<void> {
  await page.mouse.move(300, 300).catch(() => {});
  await page.mouse.wheel(0, 500).catch(() => {});
  await within(SETTLE_MS, probe.passTime(STAY_MS, MOST_TIMERS), 0);
  await page.mouse.wheel(0, -500).catch(() => {});
  await probe.settled(100, SETTLE_MS);
}

/** Takes in what was seen, and comes to the page again. */
async function comeAgain(
  page: Page,
  probe: PageProbe,
  collector: Collector,
  ground: TrialGround,
): Promise<void> {
  await readInto(collector, page, probe, ground);
  probe.begin();
  const loaded = await loadSurely(probe, ground.startUrl);
  if (!loaded.sound) return;
  await probe.settled(100, SETTLE_MS);
  await within(SETTLE_MS, probe.passTime(STAY_MS, MOST_TIMERS), 0);
  await probe.settled(100, SETTLE_MS);
}

async function readInto(
  collector: Collector,
  page: Page,
  probe: PageProbe,
  ground: TrialGround,
): Promise<void> {
  const jar = await within(3000, readJar(page.context()), []);
  collector.addPage(ground.startUrl, probe.take(), jar);
  probe.forget();
}

function keysOf(collector: Collector): ReadonlyMap<string, string> {
  return new Map(
    collector.sightings().map((s) => [trackerKey(s), `${s.kind} ${s.name} of ${s.host}`.slice(0, 300)]),
  );
}

interface OnSite {
  readonly page: Page;
  readonly probe: PageProbe;
  readonly collector: Collector;
  readonly context: BrowserContext;
}

/** Opens the start page with a clean profile. Throws an Error where it cannot be loaded. */
async function onSite<T>(ground: TrialGround, work: (site: OnSite) => Promise<T>): Promise<T> {
  const visit = await startVisit({
    executable: ground.executable,
    profiles: ground.profiles,
    proxy: ground.proxy.url,
    ...localeOf(ground.region satisfies Region),
  });
  try {
    const { page, probe } = await openTab(visit.context, ground, { gpc: false });
    probe.begin();
    const loaded = await loadSurely(probe, ground.startUrl);
    if (!loaded.sound) throw new Error(`The start page could not be loaded: ${loaded.note}`);
    const collector = new Collector('before', new URL(ground.startUrl).hostname);
    // Whatever the page does to whoever looks at it, the visit ends.
    return await inTime(MOST_TRIAL_MS, work({ page, probe, collector, context: visit.context }));
  } finally {
    await visit.close();
  }
}
