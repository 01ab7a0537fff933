import type { Page } from 'playwright-core';
import { localeOf } from '../../../core/websites/notice/region.ts';
import type { Answer, Lane } from '../../../core/websites/visits/visit.ts';
import { pause } from '../../processes/pause.ts';
import { within } from '../../processes/within.ts';
import { startVisit } from '../crawl/browser/chromium.ts';
import { untilCalledOff } from '../crawl/called-off.ts';
import type { CrawlPlan } from '../crawl/crawl-plan.ts';
import { openOwn, operateOwn } from '../crawl/notice/notice-operator.ts';
import { load, loadSurely } from '../crawl/page/load-page.ts';
import { openTab } from '../crawl/page/open-tab.ts';
import type { PageProbe } from '../crawl/page/page-probe.ts';
import { CourseWriter, type VisitGround } from './course-writer.ts';
import { measureNotice } from './measure-notice.ts';
import { hearTold } from './told.ts';

export interface WalkPlan {
  readonly startUrl: string;
  readonly ground: VisitGround;
  readonly executable: string;
  readonly profiles: string;
  readonly proxy: string;
  readonly service: CrawlPlan['service'];
  readonly rewrite: CrawlPlan['rewrite'];
  /** Parameters that the gate carries along. */
  readonly campaign: readonly string[];
}

const SETTLE_MS = 5000;
const NOTICE_MS = 3000;
const ANSWER_MS = 2000;
const RECORD_MS = 4000;

/** Walks the pages as a visitor who answers in one way, in a browser of their own. */
export async function walk(plan: WalkPlan, answer: Answer, signal: AbortSignal): Promise<Lane> {
  const { ground } = plan;
  const writer = new CourseWriter(ground);
  const visit = await startVisit({
    executable: plan.executable,
    profiles: plan.profiles,
    proxy: plan.proxy,
    headers: ground.wish.gpc ? { 'Sec-GPC': '1' } : {},
    ...localeOf(ground.wish.region),
  });
  try {
    const { page, probe } = await openTab(visit.context, plan, {
      gpc: ground.wish.gpc,
      heard: (seen) => writer.saw(seen),
    });
    await hearTold(probe.session, (told) => writer.told(told));
    const whyNot = (await untilCalledOff(course(plan, answer, writer, page, probe), signal)) ?? '';
    const measure = writer.measure && { measure: writer.measure };
    return { answer, whyNot, events: writer.events, receipt: writer.receipt ?? '', ...measure };
  } finally {
    await visit.close();
  }
}

/** Why the visitor could not answer; empty where they could. */
async function course(
  plan: WalkPlan,
  answer: Answer,
  writer: CourseWriter,
  page: Page,
  probe: PageProbe,
): Promise<string> {
  const { wish } = plan.ground;
  const [first = '/', ...more] = wish.pages;
  writer.begin();
  writer.walk('asked', 'asked', `page asked for: ${first}`);
  const loaded = await loadSurely(probe, new URL(first, plan.startUrl).href);
  if (!loaded.sound) {
    writer.walk('lost', 'lost', 'the page could not be loaded', '', loaded.note);
    return `The page could not be loaded: ${loaded.note}`;
  }
  await probe.settled(400, SETTLE_MS);
  await until(() => writer.shown, NOTICE_MS);
  if (!(await openOwn(page))) return 'The page has no notice of ours, and no control that opens one.';
  await until(() => writer.shown, NOTICE_MS);
  await pause(300);
  writer.measure = await measureNotice(page);
  writer.willAnswer = answerWords(answer, plan);
  const pressed = await operateOwn(page, { choice: answer, purposes: wish.chosen });
  await until(() => writer.answered, ANSWER_MS);
  if (pressed === undefined || !writer.answered) return 'The notice is there, and could not be answered.';
  await until(() => writer.receipt !== undefined, RECORD_MS);
  await probe.settled(500, SETTLE_MS);
  await within(SETTLE_MS, probe.passTime(30_000, 40), 0);
  await probe.settled(200, SETTLE_MS);
  let before = page.url();
  for (const next of more.length > 0 ? more : [undefined]) {
    writer.phase++;
    const came = await goOn(page, probe, next, plan.startUrl);
    if (!came) break;
    const address = new URL(page.url());
    const carried = carriedWords(before, page.url(), came, plan.campaign);
    writer.walk('page', `page ${writer.phase}`, `next page: ${address.pathname}`, carried.cell, carried.why);
    await probe.settled(500, SETTLE_MS);
    await within(SETTLE_MS, probe.passTime(30_000, 40), 0);
    await probe.settled(200, SETTLE_MS);
    before = page.url();
  }
  return '';
}

/** By a link of the page where there is one, as a visitor would; else by its address. */
async function goOn(
  page: Page,
  probe: PageProbe,
  next: string | undefined,
  startUrl: string,
): Promise<'link' | 'address' | undefined> {
  const here = new URL(page.url());
  const wanted = next === undefined ? undefined : new URL(next, startUrl);
  const links = page.locator('a[href]');
  const hrefs = await within(
    3000,
    links.evaluateAll((all) => all.map((a) => (a as HTMLAnchorElement).href)),
    [],
  );
  const at = hrefs.findIndex((href) => {
    if (!URL.canParse(href)) return false;
    const url = new URL(href);
    if (wanted) return url.host === wanted.host && url.pathname === wanted.pathname;
    return url.host === here.host && url.pathname !== here.pathname && /^https?:$/.test(url.protocol);
  });
  if (at >= 0) {
    const left = page.waitForURL((url) => url.pathname !== here.pathname, {
      timeout: 6000,
      waitUntil: 'commit',
    });
    const clicked = await links
      .nth(at)
      .click({ timeout: 3000 })
      .then(() => left)
      .then(() => true)
      .catch(() => false);
    left.catch(() => {});
    if (clicked) {
      await within(SETTLE_MS, page.waitForLoadState('load'), undefined);
      return 'link';
    }
  }
  return wanted && (await load(probe, wanted.href)).sound ? 'address' : undefined;
}

function carriedWords(before: string, after: string, came: 'link' | 'address', names: readonly string[]) {
  const [then, now] = [new URL(before).searchParams, new URL(after).searchParams];
  const had = names.filter((n) => then.has(n));
  if (had.length === 0) return { cell: '', why: 'The page before had no parameter of a campaign.' };
  if (came === 'address')
    return { cell: 'by address', why: 'No link led there, so the visitor went by the address itself.' };
  const lost = had.filter((n) => now.get(n) !== then.get(n));
  return lost.length === 0
    ? { cell: 'kept', why: `${had.join(', ')} went along in the link.` }
    : {
        cell: 'not carried',
        why: `${lost.join(', ')} did not go along: whoever may store needs no link for it.`,
      };
}

function answerWords(answer: Answer, { ground: { wish, purposes } }: WalkPlan): string {
  if (answer === 'refuse') return 'refuses';
  if (answer === 'accept') return 'allows all';
  const names = wish.chosen.map((c) => purposes.find((p) => p.code === c)?.name ?? c);
  return names.join(', ') || 'allows none';
}

async function until(is: () => boolean, ms: number): Promise<void> {
  const end = Date.now() + ms;
  while (!is() && Date.now() < end) await pause(30);
}
