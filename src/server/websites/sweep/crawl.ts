import type { BrowserContext, Page } from 'playwright-core';
import { XMLParser } from 'fast-xml-parser';
import { fetch as fetchThrough, ProxyAgent } from 'undici';
import { Frontier } from '../../../core/websites/frontier.ts';
import { choiceOf, type Visitor } from '../../../core/websites/visitor.ts';
import { startVisit } from './chromium.ts';
import { Collector, type JarCookie } from './collector.ts';
import { operateNotice } from './notice-operator.ts';
import type { OutboundProxy } from './outbound-proxy.ts';
import { PageProbe } from './page-probe.ts';

export interface CrawlPlan {
  readonly startUrl: string;
  readonly visitor: Visitor;
  readonly maxPages: number;
  /** Unix milliseconds after which no page is begun. */
  readonly until: number;
  readonly tabs: number;
  /** Least milliseconds between the starts of two pages. */
  readonly paceMs: number;
  /** The pages another visitor saw, so that all see the same; `undefined` to find them. */
  readonly pages: readonly string[] | undefined;
  readonly executable: string;
  readonly profiles: string;
  readonly proxy: { readonly url: string; readonly guard: OutboundProxy };
  /** Shows a notice that is only rehearsed, and keeps choices out of the records. */
  readonly rehearsal: { readonly origin: string; readonly token: string } | undefined;
}

export interface SweptPage {
  readonly url: string;
  /** HTTP status; `null` where there was no answer. */
  readonly status: number | null;
  readonly note: string;
}

export interface CrawlResult {
  readonly visitor: Visitor;
  readonly pages: readonly SweptPage[];
  readonly sightings: ReturnType<Collector['sightings']>;
  /** Out of the ordinary, as the officer reads it. */
  readonly notes: readonly string[];
  /** What the choice was made on; `null` when none was to be made, or nothing was there to press. */
  readonly operated: string | null;
  readonly couldChoose: boolean;
}

export interface CrawlProgress {
  readonly pages: number;
  readonly known: number;
  readonly trackers: number;
}

const PAGE_MS = 20_000;
const QUIET_MS = 250;
const SETTLE_MS = 4_000;
const MAX_DEPTH = 12;
const SITEMAP_MS = 8_000;
/** A tab is renewed after so many pages, so that memory stays flat. */
const PAGES_A_TAB = 60;

/** Sweeps the site as one visitor. On `signal` it stops after the running pages and returns what it has. */
export async function crawl(
  plan: CrawlPlan,
  signal: AbortSignal,
  progress: (p: CrawlProgress) => void,
): Promise<CrawlResult> {
  const visit = await startVisit({
    executable: plan.executable,
    profiles: plan.profiles,
    proxy: plan.proxy.url,
  });
  const run = new Crawl(plan, visit.context, signal, progress);
  const stop = () => void visit.close();
  try {
    signal.addEventListener('abort', stop, { once: true });
    return await run.run();
  } finally {
    signal.removeEventListener('abort', stop);
    await visit.close();
  }
}

class Crawl {
  readonly #host: string;
  readonly #frontier: Frontier;
  readonly #collector: Collector;
  readonly #pages: SweptPage[] = [];
  readonly #notes = new Set<string>();
  readonly #claims = new Set<string>();
  #nextStart = 0;
  #busy = 0;

  constructor(
    readonly plan: CrawlPlan,
    readonly context: BrowserContext,
    readonly signal: AbortSignal,
    readonly progress: (p: CrawlProgress) => void,
  ) {
    const start = new URL(plan.startUrl);
    this.#host = start.host;
    this.#frontier = new Frontier({ host: start.host, maxPages: plan.maxPages, maxDepth: MAX_DEPTH });
    this.#collector = new Collector(plan.visitor, start.hostname);
    this.#frontier.add(plan.startUrl, plan.startUrl, 0);
    for (const url of plan.pages ?? []) this.#frontier.add(url, plan.startUrl, 0);
  }

  async run(): Promise<CrawlResult> {
    const mine = new Set<Page>();
    this.context.on('page', (page) => {
      // A window the site opened by itself.
      setTimeout(() => !mine.has(page) && void page.close().catch(() => {}), 50);
    });
    const choice = choiceOf(this.plan.visitor);
    let operated: string | null = null;
    let couldChoose = true;
    try {
      if (choice) {
        operated = await this.#choose(mine, choice);
        couldChoose = operated !== null;
      }
      if (couldChoose) {
        if (!this.plan.pages) await this.#readSitemap();
        await Promise.all(Array.from({ length: this.plan.tabs }, () => this.#tab(mine)));
      }
    } catch (error) {
      if (!this.signal.aborted) throw error;
    }
    if (couldChoose)
      this.#collector.finish(
        await within(3000, readJar(this.context), []),
        this.plan.startUrl,
        Date.now() / 1000,
      );
    this.#sayLimits();
    return {
      visitor: this.plan.visitor,
      pages: this.#pages,
      sightings: this.#collector.sightings(),
      notes: [...this.#notes],
      operated,
      couldChoose,
    };
  }

  async #tab(mine: Set<Page>): Promise<void> {
    let page: Page | undefined;
    let probe: PageProbe | undefined;
    let used = 0;
    try {
      while (!this.signal.aborted && Date.now() < this.plan.until) {
        const planned = this.#frontier.next();
        if (!planned) {
          // Another tab may still find links.
          if (this.#busy === 0) return;
          await new Promise((done) => setTimeout(done, 50));
          continue;
        }
        this.#busy++;
        try {
          if (!page || !probe || used >= PAGES_A_TAB) {
            if (page) await closePage(page, mine);
            [page, probe] = await this.#open(mine);
            used = 0;
          }
          used++;
          const sound = await this.#sweepPage(page, probe, planned.url, planned.depth);
          if (!sound) {
            await closePage(page, mine);
            page = undefined;
          }
        } finally {
          this.#busy--;
        }
      }
    } finally {
      if (page) await closePage(page, mine);
    }
  }

  async #open(mine: Set<Page>): Promise<[Page, PageProbe]> {
    const page = await this.context.newPage();
    mine.add(page);
    const probe = await PageProbe.attach(page, this.#claims);
    const { rehearsal } = this.plan;
    if (rehearsal) await probe.addHeader(rehearsal.origin, 'x-yare-rehearsal', rehearsal.token);
    return [page, probe];
  }

  /** `false` when the tab has to be replaced. */
  async #sweepPage(page: Page, probe: PageProbe, url: string, depth: number): Promise<boolean> {
    await this.#pace();
    probe.begin();
    const loaded = await load(page, url);
    if (this.signal.aborted) return false;
    const settled = loaded.sound && (await probe.settled(QUIET_MS, SETTLE_MS));
    const links = loaded.sound && !this.plan.pages ? await within(3000, readLinks(page), []) : [];
    const landed = page.url();
    if (loaded.sound && URL.canParse(landed) && new URL(landed).host !== this.#host) {
      this.#pages.push({ url, status: loaded.status, note: `Leads away to ${new URL(landed).host}` });
      this.#report();
      return true;
    }
    for (const link of links) this.#frontier.add(link, landed, depth + 1);
    const jar = await within(3000, readJar(this.context), []);
    this.#collector.addPage(url, probe.take(), jar, Date.now() / 1000);
    const cut = [...this.plan.proxy.guard.cut].some((c) => c === url);
    const note =
      loaded.note ||
      (cut
        ? 'Too large: cut off'
        : !settled
          ? 'Never came to rest'
          : probe.overflowed
            ? 'Does more than is counted'
            : '');
    this.#pages.push({ url, status: loaded.status, note });
    this.#report();
    return loaded.sound;
  }

  /** Presses the notice's button on the first page, then clears away what was stored before the choice. */
  async #choose(mine: Set<Page>, choice: 'accept' | 'refuse'): Promise<string | null> {
    const [page, probe] = await this.#open(mine);
    try {
      probe.begin();
      const loaded = await load(page, this.plan.startUrl);
      if (!loaded.sound) {
        this.#notes.add(`The start page could not be loaded: ${loaded.note}`);
        return null;
      }
      await probe.settled(QUIET_MS, SETTLE_MS);
      const before = await readJar(this.context);
      const stored = await Promise.all(
        page.frames().map((f) => within(2000, f.evaluate(storageEntries), null)),
      );
      probe.forget();
      const operated = await operateNotice(page, choice, 2500);
      if (!operated) return null;
      await probe.settled(QUIET_MS, SETTLE_MS);
      // What the choice itself set off counts: much of it is set once and never again.
      this.#collector.addPage(
        this.plan.startUrl,
        probe.take(),
        await readJar(this.context),
        Date.now() / 1000,
      );
      await clearUnchanged(this.context, before);
      await Promise.all(
        page.frames().map((f, i) => within(2000, f.evaluate(removeUnchanged, stored[i] ?? null), undefined)),
      );
      return `${operated.how}, “${operated.pressed}”`;
    } finally {
      await closePage(page, mine);
    }
  }

  async #readSitemap(): Promise<void> {
    const { origin } = new URL(this.plan.startUrl);
    const dispatcher = new ProxyAgent({
      uri: this.plan.proxy.url,
      headersTimeout: SITEMAP_MS,
      bodyTimeout: SITEMAP_MS,
    });
    const queue = [`${origin}/sitemap.xml`];
    for (let read = 0; queue.length > 0 && read < 20; read++) {
      const text = await within(2 * SITEMAP_MS, fetchText(queue.shift() as string, dispatcher), '');
      const { pages, sitemaps } = readSitemapXml(text);
      for (const url of pages.slice(0, 50_000)) this.#frontier.add(url, origin, 1);
      queue.push(...sitemaps.filter((s) => s.startsWith(`${origin}/`)));
    }
    await dispatcher.close().catch(() => {});
  }

  async #pace(): Promise<void> {
    const now = Date.now();
    const start = Math.max(now, this.#nextStart);
    this.#nextStart = start + this.plan.paceMs;
    if (start > now) await new Promise((done) => setTimeout(done, start - now));
  }

  #report(): void {
    this.progress({ pages: this.#pages.length, known: this.#frontier.known, trackers: this.#collector.size });
  }

  #sayLimits(): void {
    if (this.#frontier.cut)
      this.#notes.add(`Stopped at the limit of ${this.plan.maxPages} pages; the site has more.`);
    if (Date.now() >= this.plan.until && !this.signal.aborted)
      this.#notes.add('Stopped at the time limit; pages were left.');
    if (this.#collector.overflowed) this.#notes.add('More kinds of trackers than are counted: 20,000.');
  }
}

interface Loaded {
  readonly sound: boolean;
  readonly status: number | null;
  readonly note: string;
}

async function load(page: Page, url: string): Promise<Loaded> {
  try {
    const response = await page.goto(url, { waitUntil: 'load', timeout: PAGE_MS });
    const status = response?.status() ?? null;
    return { sound: true, status, note: status !== null && status >= 400 ? `Answered ${status}` : '' };
  } catch (error) {
    const text = (error as Error).message;
    if (/ERR_ABORTED|Download is starting/.test(text))
      return { sound: true, status: null, note: 'A download, not a page' };
    const timedOut = /Timeout/.test(text);
    return {
      sound: false,
      status: null,
      note: timedOut ? 'Did not finish loading in 20 seconds' : loadFailure(text),
    };
  }
}

function loadFailure(text: string): string {
  const code = /net::(ERR_[A-Z_]+)/.exec(text)?.[1];
  if (!code) return 'Could not be loaded';
  const words: Record<string, string> = {
    ERR_TOO_MANY_REDIRECTS: 'Redirects in a circle',
    ERR_CONNECTION_REFUSED: 'Nothing answers there',
    ERR_CERT_AUTHORITY_INVALID: 'Its certificate is not trusted',
    ERR_CERT_DATE_INVALID: 'Its certificate has run out',
    ERR_CERT_COMMON_NAME_INVALID: 'Its certificate is for another name',
    ERR_EMPTY_RESPONSE: 'Closed without an answer',
    ERR_TIMED_OUT: 'Never answered',
    ERR_CONTENT_LENGTH_MISMATCH: 'Too large: cut off',
    ERR_INCOMPLETE_CHUNKED_ENCODING: 'Too large: cut off',
  };
  return words[code] ?? `Could not be loaded (${code})`;
}

async function fetchText(url: string, dispatcher: ProxyAgent): Promise<string> {
  const response = await fetchThrough(url, { dispatcher, redirect: 'manual' });
  return response.ok ? response.text() : '';
}

async function readLinks(page: Page): Promise<string[]> {
  return page.evaluate(() =>
    Array.from(document.querySelectorAll('a[href], area[href]'), (a) => (a as HTMLAnchorElement).href)
      .filter((href) => typeof href === 'string')
      .slice(0, 3000),
  );
}

async function readJar(context: BrowserContext): Promise<JarCookie[]> {
  return (await context.cookies()).map(({ name, value, domain, expires }) => ({
    name,
    value,
    domain,
    expires,
  }));
}

async function clearUnchanged(context: BrowserContext, before: readonly JarCookie[]): Promise<void> {
  const after = await readJar(context);
  for (const old of before) {
    const same = after.some(
      (c) =>
        c.name === old.name &&
        c.domain === old.domain &&
        c.value === old.value &&
        Math.abs(c.expires - old.expires) < 2,
    );
    if (same) await context.clearCookies({ name: old.name, domain: old.domain });
  }
}

/** Runs in the page. */
function storageEntries(): [string, string][][] | null {
  try {
    return [localStorage, sessionStorage].map((s) => Object.entries(s) as [string, string][]);
  } catch {
    return null;
  }
}

/** Runs in the page: takes away what stands as it stood before the choice. */
function removeUnchanged(before: [string, string][][] | null): void {
  try {
    [localStorage, sessionStorage].forEach((s, i) => {
      for (const [key, value] of before?.[i] ?? []) if (s.getItem(key) === value) s.removeItem(key);
    });
  } catch {
    // Storage is closed to this frame.
  }
}

async function closePage(page: Page, mine: Set<Page>): Promise<void> {
  mine.delete(page);
  await within(3000, page.close(), undefined);
}

/** The result, or `fallback` when it fails or takes longer than `ms`: a page can hold its own answers back for ever. */
async function within<T>(ms: number, work: Promise<T>, fallback: T): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<T>((done) => (timer = setTimeout(() => done(fallback), ms)));
  return Promise.race([work.catch(() => fallback), late]).finally(() => clearTimeout(timer));
}

/** The addresses in a sitemap or a sitemap index (sitemaps.org); nothing for what is neither. */
export function readSitemapXml(text: string): { pages: string[]; sitemaps: string[] } {
  if (text.length > 50 * 1024 * 1024) return { pages: [], sitemaps: [] };
  try {
    const parsed = new XMLParser({
      processEntities: true,
      isArray: (name) => name === 'url' || name === 'sitemap',
    }).parse(text) as {
      urlset?: { url?: { loc?: unknown }[] };
      sitemapindex?: { sitemap?: { loc?: unknown }[] };
    };
    const locs = (list: { loc?: unknown }[] | undefined) =>
      (list ?? []).map((e) => String(e.loc ?? '').trim()).filter(Boolean);
    return { pages: locs(parsed.urlset?.url), sitemaps: locs(parsed.sitemapindex?.sitemap) };
  } catch {
    return { pages: [], sitemaps: [] };
  }
}
