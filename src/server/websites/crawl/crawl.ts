import type { BrowserContext, Page } from 'playwright-core';
import { Frontier, pageAddress, type Planned } from '../../../core/websites/sweeps/frontier.ts';
import { localeOf } from '../../../core/websites/notice/region.ts';
import { choiceOf, type Choice } from '../../../core/websites/trackers/visitor.ts';
import { attend, bounceCandidates } from './visit/attention.ts';
import { playPath } from './visit/click-path-player.ts';
import { startVisit } from './browser/chromium.ts';
import { addBounces, BounceLinks } from './bounce.ts';
import { untilCalledOff } from './called-off.ts';
import { Collector } from './collector.ts';
import { NOTICE_PHRASES, plainWords } from '../../../core/websites/reading/control-words.ts';
import { wordsOf } from '../../../core/websites/reading/notice-reading.ts';
import { reachNotice } from './notice/way-trial.ts';
import { limitNotes, stoppedByTime } from './crawl-limits.ts';
import type { CrawlPlan, CrawlProgress, CrawlResult, SweptPage } from './crawl-plan.ts';
import { clearStanding, readJar, standingBefore } from './visit/kept-before.ts';
import { load, loadSurely } from './page/load-page.ts';
import { operateNotice, readWay, type Operated, type Wish } from './notice/notice-operator.ts';
import { openTab } from './page/open-tab.ts';
import { Shared, type PageProbe } from './page/page-probe.ts';
import { readSiteFiles, type SiteFiles } from './site-map.ts';
import { logFailure } from '../../processes/failure-log.ts';
import { pause } from '../../processes/pause.ts';
import { inTime, LateError, within } from '../../processes/within.ts';

const NOTICE_MS = 1500;
const LATE_NOTICE_MS = 800;
const SETTLE_MS = 4_000;
const MOST_CHOOSING_MS = 60_000;
/** A tab is renewed after so many pages, so that memory stays flat. */
const PAGES_A_TAB = 60;
const BROWSERS = 3;
/** Thrown inside a visit whose browser ended by itself. */
class BrowserEnded extends Error {}

/**
 * Sweeps the site as one visitor. On `signal` it stops after the running pages and returns what it has. A browser that
 * ends by itself is started again, twice, and goes on where it was.
 */
export async function crawl(
  plan: CrawlPlan,
  signal: AbortSignal,
  progress: (p: CrawlProgress) => void,
): Promise<CrawlResult> {
  const run = new Crawl(plan, signal, progress);
  for (let browser = 1; ; browser++) {
    const visit = await startVisit({
      executable: plan.executable,
      profiles: plan.profiles,
      proxy: plan.proxy.url,
      headers: plan.visitor === 'gpc' ? { 'Sec-GPC': '1' } : {},
      ...localeOf(plan.region),
    });
    const stop = () => void visit.close();
    signal.addEventListener('abort', stop, { once: true });
    if (signal.aborted) stop();
    try {
      return await run.visit(visit.context);
    } catch (error) {
      if (!(error instanceof BrowserEnded) || browser === BROWSERS) throw error;
      run.browserEnded();
    } finally {
      signal.removeEventListener('abort', stop);
      await visit.close();
    }
  }
}

interface Visit {
  ended: boolean;
}

class Crawl {
  readonly #host: string;
  readonly #collector: Collector;
  readonly #pages: SweptPage[] = [];
  readonly #notes = new Set<string>();
  readonly #pressed = new Set<string>();
  readonly #bounces = new BounceLinks();
  /** Pages whose line failed once. */
  readonly #lost = new Set<string>();
  /** Words on the controls of the notice. */
  readonly #notice: ReadonlySet<string>;
  #frontier: Frontier | undefined;
  #shared = new Shared();
  #underWay = new Map<Page, Planned>();
  #nextStart = 0;
  #paceMs: number;
  #picture: Buffer | undefined;
  #whyNot = 'Found no notice to answer, so this visitor could not be tried.';
  /** The visit that goes on with one browser; what is left of one before does nothing any more. */
  #visit: Visit = { ended: false };

  constructor(
    readonly plan: CrawlPlan,
    readonly signal: AbortSignal,
    readonly progress: (p: CrawlProgress) => void,
  ) {
    const start = new URL(plan.startUrl);
    this.#host = start.host;
    this.#paceMs = plan.scope.paceMs;
    this.#collector = new Collector(plan.visitor, start.hostname);
    const ownWords = [...(plan.reading ? wordsOf(plan.reading) : []), ...(plan.leaveAlone ?? [])];
    this.#notice = new Set([...NOTICE_PHRASES, ...ownWords.map(plainWords)]);
  }

  async visit(context: BrowserContext): Promise<CrawlResult> {
    const visit: Visit = (this.#visit = { ended: false });
    const mine = new Set<Page>();
    context.on('page', (page) => {
      // A window the site opened by itself.
      setTimeout(() => !mine.has(page) && void page.close().catch(() => {}), 50);
    });
    context.on('close', () => (visit.ended = true));
    let operated: string | null = null;
    let couldChoose = true;
    const walk = async () => {
      if (this.plan.paths.signIn.length > 0) await this.#signIn(context, mine);
      const choice = choiceOf(this.plan.visitor);
      if (choice) {
        operated = await this.#chooseInTime(context, mine, choice);
        couldChoose = operated !== null;
      }
      this.#throwIfEnded();
      if (!couldChoose) return;
      const frontier = (this.#frontier ??= await this.#plan());
      await Promise.all(Array.from({ length: this.plan.tabs }, () => this.#tab(context, mine, frontier)));
      this.#throwIfEnded();
      await this.#followBounces(context, mine);
    };
    try {
      await untilCalledOff(walk(), this.signal);
    } catch (error) {
      this.#throwIfEnded();
      if (!this.signal.aborted) throw error;
    }
    if (couldChoose)
      this.#collector.finish(await within(3000, readJar(context), []), this.plan.startUrl, Date.now() / 1000);
    await this.#nameAliases();
    this.#collector.setRegistered(this.#shared.serviceWorkers);
    for (const note of limitNotes(
      this.plan,
      this.#frontier,
      this.#collector,
      this.signal.aborted,
      Date.now(),
    ))
      this.#notes.add(note);
    return {
      visitor: this.plan.visitor,
      pages: this.#pages,
      sightings: this.#collector.sightings(),
      notes: [...this.#notes],
      operated,
      couldChoose,
      whyNot: couldChoose ? '' : this.#whyNot,
      incomplete: couldChoose && stoppedByTime(this.plan, this.#frontier, this.signal.aborted, Date.now()),
      picture: this.#picture,
    };
  }

  /** Makes ready for another browser: pages that were under way are taken up again. */
  browserEnded(): void {
    for (const page of this.#underWay.values()) this.#frontier?.again(page);
    this.#underWay = new Map();
    this.#shared = new Shared();
    this.#notes.add('The browser ended by itself; the sweep went on with another.');
  }

  #throwIfEnded(): void {
    if (this.#visit.ended && !this.signal.aborted) throw new BrowserEnded('The browser ended by itself.');
  }

  async #plan(): Promise<Frontier> {
    const { startUrl, scope, pages, proxy } = this.plan;
    const files: SiteFiles | undefined =
      pages && !scope.robotsOverride
        ? undefined
        : await readSiteFiles(startUrl, proxy.url, scope.sitemap && !pages);
    const keepsTo = files && scope.robotsOverride === '' ? files : undefined;
    if (keepsTo) this.#paceMs = Math.max(this.#paceMs, keepsTo.paceMs);
    const frontier = new Frontier(this.#host, scope, keepsTo ? (url) => keepsTo.allows(url) : undefined);
    frontier.addStart(startUrl, startUrl);
    for (const path of scope.startPaths) frontier.addStart(path, startUrl);
    if (pages) for (const url of pages) frontier.addStart(url, startUrl);
    else for (const url of files?.pages ?? []) frontier.add(url, startUrl, 1);
    return frontier;
  }

  async #tab(context: BrowserContext, mine: Set<Page>, frontier: Frontier): Promise<void> {
    const visit = this.#visit;
    let page: Page | undefined;
    let probe: PageProbe | undefined;
    let used = 0;
    try {
      while (!this.signal.aborted && !visit.ended && Date.now() < this.plan.until) {
        const planned = frontier.next();
        if (!planned) {
          // Another tab may still find links.
          if (this.#underWay.size === 0) return;
          await pause(20);
          continue;
        }
        if (!page || !probe || used >= PAGES_A_TAB) {
          if (page) await closePage(page, mine);
          [page, probe] = await this.#open(context, mine);
          used = 0;
        }
        used++;
        this.#underWay.set(page, planned);
        const sound = await this.#sweepPage(page, probe, planned, frontier, visit).catch((error: unknown) =>
          this.#unsound(planned, error, visit),
        );
        if (visit.ended) return;
        this.#underWay.delete(page);
        if (!sound) {
          await closePage(page, mine);
          page = undefined;
        }
      }
    } catch (error) {
      this.#throwIfEnded();
      throw error;
    } finally {
      if (page && !visit.ended) {
        this.#underWay.delete(page);
        await closePage(page, mine);
      }
    }
  }

  async #open(context: BrowserContext, mine: Set<Page>): Promise<[Page, PageProbe]> {
    const settings = { shared: this.#shared, gpc: this.plan.visitor === 'gpc' };
    const { page, probe } = await openTab(context, this.plan, settings, (p) => mine.add(p));
    return [page, probe];
  }

  /** Whatever a page did to whoever looked at it, the sweep goes on with another tab. */
  #unsound({ url }: Planned, error: unknown, visit: Visit): false {
    if (this.signal.aborted || visit.ended) return false;
    logFailure('a page could not be swept', error);
    this.#pages.push({ url, status: null, note: 'Could not be looked at' });
    this.#report();
    return false;
  }

  /** `false` when the tab has to be replaced. */
  async #sweepPage(
    page: Page,
    probe: PageProbe,
    { url, depth }: Planned,
    frontier: Frontier,
    visit: Visit,
  ): Promise<boolean> {
    await this.#pace();
    if (visit.ended) return false;
    probe.begin();
    const loaded = await load(probe, url);
    if (this.signal.aborted || visit.ended) return false;
    if (loaded.lost && !this.#lost.has(url)) {
      // Once more, when the others have been.
      this.#lost.add(url);
      frontier.later({ url, depth });
      return loaded.sound;
    }
    const landed = page.url();
    const elsewhere = loaded.sound && URL.canParse(landed) && new URL(landed).host !== this.#host;
    if (elsewhere && !/^(about|chrome-error):/.test(landed)) {
      this.#done(page, { url, status: loaded.status, note: `Leads away to ${new URL(landed).host}` });
      return true;
    }
    let settled = true;
    let links: readonly string[] = [];
    if (loaded.sound) {
      if (this.plan.picture && !this.#picture && url === pageAddress(this.plan.startUrl, url, this.#host))
        await this.#takePicture(page, probe);
      ({ settled, links } = await attend(probe, this.#pressed, this.#notice));
      if (!this.plan.pages) for (const link of links) frontier.add(link, landed, depth + 1);
      for (const link of bounceCandidates(links, landed, this.#host)) this.#bounces.remember(link, url);
    }
    const answers = await probe.answers();
    if (visit.ended) return false;
    await this.#collect(page, probe, url, links);
    const cut = this.plan.proxy.guard.cut.has(url);
    const note =
      (cut
        ? 'Too large: cut off'
        : probe.crashed
          ? 'Took more memory or threads than a page may, and was ended'
          : '') ||
      loaded.note ||
      (!settled ? 'Never came to rest' : probe.overflowed ? 'Does more than is counted' : '');
    if (visit.ended) return false;
    this.#done(page, { url, status: loaded.status, note });
    return loaded.sound && answers && !probe.crashed;
  }

  /** A page that is put down is not under way any more, even where the browser ends this moment. */
  #done(tab: Page, page: SweptPage): void {
    this.#pages.push(page);
    this.#underWay.delete(tab);
    this.#report();
  }

  /** Hands what a page did to the collector, with where it led through. */
  async #collect(page: Page, probe: PageProbe, url: string, links: readonly string[]): Promise<void> {
    addBounces(probe, this.#host, this.#collector);
    const seen = probe.take();
    const inDoubt = seen.some((s) => s.what === 'cookie' && s.refused === '?');
    const jar = inDoubt ? await within(3000, readJar(page.context()), []) : [];
    this.#collector.addPage(url, seen, jar, links);
  }

  /** Follows the links that seem to lead through another site and back. */
  async #followBounces(context: BrowserContext, mine: Set<Page>): Promise<void> {
    for (const { link, from } of this.#bounces) {
      if (this.signal.aborted || Date.now() >= this.plan.until) return;
      const [page, probe] = await this.#open(context, mine);
      try {
        probe.begin();
        const loaded = await load(probe, link);
        await probe.settled(100, SETTLE_MS);
        const landed = page.url();
        if (!loaded.sound || !URL.canParse(landed) || new URL(landed).host !== this.#host) continue;
        addBounces(probe, this.#host, this.#collector);
        // Of the way only: the page at its end has been swept.
        const onTheWay = probe
          .take()
          .filter(
            (x) =>
              x.what === 'bounce' ||
              (x.what === 'cookie' && x.top && this.#collector.party(x.domain) === 'third'),
          );
        const seen = onTheWay.map((x) => ({
          ...x,
          moment: 'click' as const,
          cause: [{ what: 'page' as const, url: from }, ...x.cause.filter((c) => c.what === 'response')],
        }));
        this.#collector.addPage(from, seen, []);
      } finally {
        await closePage(page, mine);
      }
    }
  }

  async #signIn(context: BrowserContext, mine: Set<Page>): Promise<void> {
    const [page, probe] = await this.#open(context, mine);
    try {
      probe.begin();
      const loaded = await loadSurely(probe, this.plan.startUrl);
      if (!loaded.sound) throw new Error(`The start page could not be loaded to sign in: ${loaded.note}`);
      await probe.settled(100, SETTLE_MS);
      await playPath(page, this.plan.paths, 'signIn');
      await probe.settled(100, SETTLE_MS);
      await this.#collect(page, probe, this.plan.startUrl, []);
    } finally {
      await closePage(page, mine);
    }
  }

  /** A page that hangs lets nobody answer; the steps of a recorded path have times of their own. */
  async #chooseInTime(context: BrowserContext, mine: Set<Page>, choice: Choice): Promise<string | null> {
    const chosen = this.#choose(context, mine, choice);
    if (this.plan.paths[choice].length > 0) return chosen;
    try {
      return await inTime(MOST_CHOOSING_MS, chosen);
    } catch (error) {
      if (!(error instanceof LateError)) throw error;
      // What is left of it fails with the browser.
      chosen.catch(() => {});
      this.#whyNot = 'The start page hung, and let nobody answer, so this visitor could not be tried.';
      return null;
    }
  }

  /** Makes the choice on the first page, then clears away what was stored before it. */
  async #choose(context: BrowserContext, mine: Set<Page>, choice: Choice): Promise<string | null> {
    const [page, probe] = await this.#open(context, mine);
    try {
      probe.begin();
      const loaded = await loadSurely(probe, this.plan.startUrl);
      if (!loaded.sound) {
        this.#notes.add(`The start page could not be loaded: ${loaded.note}`);
        return null;
      }
      await probe.settled(150, SETTLE_MS);
      const { chosen, paths } = this.plan;
      const { reading, onlySwitch } = this.plan;
      const wish: Wish = { choice, purposes: chosen, paths, reading, onlySwitch };
      const way = readWay(wish);
      if (way && reading) await reachNotice(page, probe, way, reading.late);
      let standing = await standingBefore(context, probe.world);
      let operated = await this.#answerNotice(page, probe, wish, NOTICE_MS);
      if (!operated) {
        // Some ask only after a while, or once somebody moves; what that sets off is still before the choice.
        await attend(probe, this.#pressed, this.#notice);
        standing = await standingBefore(context, probe.world);
        operated = await this.#answerNotice(page, probe, wish, LATE_NOTICE_MS);
      }
      if (!operated) {
        if (reading && !way) this.#whyNot = noWay(choice);
        return null;
      }
      const nothingOn = way?.every((a) => a.act !== 'set' || a.on.length === 0) ?? false;
      if (choice === 'choose' && nothingOn && chosen.length > 0) this.#notes.add(NOTHING_ON);
      await probe.settled(250, SETTLE_MS);
      await within(SETTLE_MS, probe.passTime(60_000, 60), 0);
      await probe.settled(100, SETTLE_MS);
      // What the choice itself set off counts: much of it is set once and never again.
      await this.#collect(page, probe, this.plan.startUrl, []);
      await clearStanding(context, probe.world, standing);
      return operated.how === 'the notice' ? operated.pressed : `${operated.how}, “${operated.pressed}”`;
    } finally {
      await closePage(page, mine);
    }
  }

  /** What the page does from here on comes of the choice. */
  #answerNotice(page: Page, probe: PageProbe, wish: Wish, waitMs: number): Promise<Operated> {
    probe.forget();
    probe.moment = 'click';
    return operateNotice(page, probe.world, wish, waitMs);
  }

  async #takePicture(page: Page, probe: PageProbe): Promise<void> {
    await probe.settled(250, SETTLE_MS);
    this.#picture = await within(
      5000,
      page.screenshot({ type: 'jpeg', quality: 55, timeout: 5000 }),
      undefined as Buffer | undefined,
    );
  }

  async #nameAliases(): Promise<void> {
    const names = await Promise.all(
      this.#collector.ownHosts
        .slice(0, 200)
        .map(async (h) => [h, await this.plan.aliases.canonical(h)] as const),
    );
    this.#collector.setAliases(new Map(names));
  }

  async #pace(): Promise<void> {
    const now = Date.now();
    const start = Math.max(now, this.#nextStart);
    this.#nextStart = start + this.#paceMs;
    if (start > now) await pause(start - now);
  }

  #report(): void {
    this.progress({
      pages: this.#pages.length,
      known: this.#frontier?.known ?? 0,
      trackers: this.#collector.size,
    });
  }
}

async function closePage(page: Page, mine: Set<Page>): Promise<void> {
  mine.delete(page);
  await within(3000, page.close(), undefined);
}

const NOTHING_ON =
  'No switch of the notice is known to be for what was to be allowed, so this visitor allowed nothing. Say what its switches are for.';

function noWay(choice: Choice): string {
  const to = { refuse: 'refuse', accept: 'accept', choose: 'allow some purposes only' }[choice];
  return `The notice was found, and offers no way to ${to}, so this visitor could not be tried.`;
}
