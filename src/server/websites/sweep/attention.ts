import type { Page } from 'playwright-core';
import { pageAddress } from '../../../core/websites/frontier.ts';
import { choosesOnNotice } from './notice-words.ts';
import type { PageProbe } from './page-probe.ts';

/** What a page was found to hold once somebody had paid attention to it. */
export interface Attended {
  /** Every address it links to, or tried to go to. */
  readonly links: readonly string[];
}

const QUIET_MS = 50;
const SETTLE_MS = 4_000;
/** How long a visitor stays, in the page's own time. */
const STAY_MS = 60_000;
const MOST_TIMERS = 60;
const MOST_PRESSES = 6;
const ANSWER_MS = 4000;

/** Controls that do something for good, and those that end the visit. */
const LEAVE_ALONE =
  /\b(log ?out|sign ?out|log ?in|sign ?in|delete|remove|buy|pay|order|book|send|submit|subscribe|unsubscribe|print|download|slet|fjern|køb|betal|bestil|ta bort|köp|beställ|löschen|kaufen|bezahlen|bestellen|abmelden|absenden)\b/i;

/**
 * Behaves as an attentive visitor does: scrolls, stays a minute (the page's timers are run early instead), clicks on
 * the page and on the buttons not pressed before on this visit, and leaves. `false` in `settled` when the page never
 * came to rest.
 */
export async function attend(
  page: Page,
  probe: PageProbe,
  pressed: Set<string>,
): Promise<Attended & { readonly settled: boolean }> {
  let settled = await probe.settled(QUIET_MS, SETTLE_MS);
  probe.moment = 'scroll';
  await within(ANSWER_MS, page.evaluate(scrollDown), undefined);
  probe.moment = 'wait';
  settled = (await stay(probe)) && settled;
  probe.moment = 'click';
  const found = await within(ANSWER_MS, clickAround(page, pressed), { links: [], went: [] });
  settled = (await stay(probe)) && settled;
  return { links: [...found.links, ...found.went], settled };
}

/** Lets the page's time pass until nothing more comes of it. */
async function stay(probe: PageProbe): Promise<boolean> {
  for (let round = 0; round < 4; round++) {
    const before = probe.requests;
    const ran = await within(ANSWER_MS, probe.passTime(STAY_MS, MOST_TIMERS), 0);
    const settled = await probe.settled(QUIET_MS, SETTLE_MS);
    if (!settled) return false;
    if (ran === 0 || (round > 0 && probe.requests === before)) return true;
  }
  return true;
}

async function clickAround(page: Page, pressed: Set<string>): Promise<{ links: string[]; went: string[] }> {
  const buttons = await page.evaluate(listButtons, MOST_PRESSES * 6);
  const chosen = buttons
    .filter(
      (b) =>
        b.words !== '' && !pressed.has(b.mark) && !LEAVE_ALONE.test(b.words) && !choosesOnNotice(b.words),
    )
    .slice(0, MOST_PRESSES);
  for (const b of chosen) pressed.add(b.mark);
  const spot = await page.evaluate(
    pressAll,
    chosen.map((b) => b.index),
  );
  if (spot) {
    await page.mouse.move(spot.x, spot.y);
    await page.mouse.click(spot.x, spot.y);
  }
  return page.evaluate(whatStands);
}

/** Leaves the page, so that what it does at the last moment is seen too. */
export async function leave(page: Page, probe: PageProbe): Promise<void> {
  probe.moment = 'leave';
  // Told beforehand: what a page sends while it is torn down is not told to those who watch it.
  await within(ANSWER_MS, page.evaluate(sayGoodbye), undefined);
  await probe.settled(10, 500);
  await page.goto('about:blank', { timeout: 3000 }).catch(() => {});
}

/** Links that lead through another site and, by what they say, back to this one. */
export function bounceCandidates(links: readonly string[], from: string, host: string): string[] {
  const { hostname } = new URL(`http://${host}`);
  return links.filter((link) => {
    if (pageAddress(link, from, host) !== undefined || !/^https?:/.test(link)) return false;
    const url = new URL(link);
    let rest = url.pathname + url.search;
    try {
      rest = decodeURIComponent(rest);
    } catch {
      // As it stands, then.
    }
    return url.host !== host && rest.includes(hostname);
  });
}

/** Runs in the page: bars it from going elsewhere, and scrolls to its end by way of its middle. */
async function scrollDown(): Promise<void> {
  interface Going extends Event {
    readonly hashChange: boolean;
    readonly destination: { readonly url: string; readonly sameDocument: boolean };
  }
  const went: string[] = [];
  Object.defineProperty(document, 'wentTo', { value: went, configurable: true, enumerable: false });
  const { navigation } = globalThis as unknown as { navigation?: EventTarget };
  navigation?.addEventListener('navigate', (event) => {
    const going = event as Going;
    if (!going.cancelable || going.hashChange || going.destination.sameDocument) return;
    if (went.length < 50) went.push(going.destination.url);
    going.preventDefault();
  });
  const frame = () =>
    new Promise<void>((done) => {
      const timer = setTimeout(done, 60);
      requestAnimationFrame(() => {
        clearTimeout(timer);
        done();
      });
    });
  document.dispatchEvent(new MouseEvent('mousemove', { bubbles: true, clientX: 200, clientY: 200 }));
  const height = Math.max(document.documentElement.scrollHeight, document.body?.scrollHeight ?? 0);
  if (height <= innerHeight) {
    // Nothing to scroll: a visitor's wheel still turns.
    for (const name of ['wheel', 'scroll']) document.dispatchEvent(new Event(name, { bubbles: true }));
    dispatchEvent(new Event('scroll'));
    await frame();
    return;
  }
  for (const share of [0.5, 1]) {
    scrollTo(0, height * share);
    await frame();
  }
  await frame();
}

/** Runs in the page: its buttons, but for those that send forms or stand in a notice. */
function listButtons(most: number): { index: number; words: string; mark: string }[] {
  const asks = /cookie|consent|samtykk|samtyck|einwillig|kakor|zustimm/i;
  const inNotice = (element: Element): boolean => {
    for (let e: Element | null = element; e && e !== document.body; e = e.parentElement) {
      if (/^yare-/.test(e.localName) || e.hasAttribute('data-yare-open')) return true;
      const fixed = ['fixed', 'sticky'].includes(getComputedStyle(e).position);
      const dialog = e.localName === 'dialog' || /dialog/.test(e.getAttribute('role') ?? '');
      if ((fixed || dialog || asks.test(`${e.id} ${e.className}`)) && asks.test(e.textContent ?? ''))
        return true;
    }
    return false;
  };
  const all = document.querySelectorAll<HTMLElement>(
    'button, [role="button"], [role="tab"], summary, input[type="button"], [onclick]',
  );
  const list: { index: number; words: string; mark: string }[] = [];
  for (const [index, button] of [...all].slice(0, 400).entries()) {
    if (list.length >= most) break;
    const type = button.getAttribute('type');
    const sends = button.closest('form') && button.localName === 'button' && type !== 'button';
    const box = button.getBoundingClientRect();
    if (sends || type === 'submit' || box.width === 0 || inNotice(button)) continue;
    const words = (
      button.textContent ||
      (button as HTMLInputElement).value ||
      button.getAttribute('aria-label') ||
      button.id ||
      '•'
    )
      .trim()
      .slice(0, 80);
    list.push({ index, words, mark: `${button.localName} ${button.id} ${button.className} ${words}` });
  }
  return list;
}

/**
 * Runs in the page: presses the buttons, touches a link to each of three other sites without following it, and finds a
 * spot where a click means nothing.
 */
function pressAll(indexes: number[]): { x: number; y: number } | null {
  const all = document.querySelectorAll<HTMLElement>(
    'button, [role="button"], [role="tab"], summary, input[type="button"], [onclick]',
  );
  const chosen = indexes.map((i) => all[i]);
  for (const button of chosen) button?.click();
  const stay = (e: Event) => e.preventDefault();
  const touch = (element: Element, names: readonly string[]) => {
    for (const name of names)
      element.dispatchEvent(
        name.startsWith('pointer')
          ? new PointerEvent(name, { bubbles: true, cancelable: true, composed: true })
          : new MouseEvent(name, { bubbles: true, cancelable: true, composed: true }),
      );
  };
  addEventListener('click', stay);
  const hosts = new Set<string>();
  for (const link of document.querySelectorAll<HTMLAnchorElement>('a[href^="http"], a[href^="//"]')) {
    if (link.host === location.host || hosts.has(link.host) || hosts.size >= 3) continue;
    hosts.add(link.host);
    touch(link, ['pointerdown', 'mousedown', 'pointerup', 'mouseup', 'click', 'auxclick']);
  }
  removeEventListener('click', stay);
  const plain = [...document.querySelectorAll('h1, h2, p, main, section, article, footer')].slice(0, 40);
  const spots = [
    ...plain
      .map((e) => e.getBoundingClientRect())
      .map((b) => ({ x: b.x + Math.min(6, b.width / 2), y: b.y + Math.min(6, b.height / 2) })),
    { x: 3, y: innerHeight / 2 },
    { x: innerWidth - 20, y: innerHeight / 2 },
  ];
  for (const spot of spots) {
    if (spot.x < 0 || spot.y < 0 || spot.x > innerWidth || spot.y > innerHeight) continue;
    const hit = document.elementFromPoint(spot.x, spot.y);
    if (!hit || /^yare-/.test(hit.localName)) continue;
    if (
      !hit.closest(
        'a, button, input, select, textarea, label, summary, iframe, video, [onclick], [role="button"], [contenteditable]',
      )
    )
      return spot;
  }
  return null;
}

/** Runs in the page: what it links to, and where it tried to go. */
function whatStands(): { links: string[]; went: string[] } {
  const links = Array.from(
    document.querySelectorAll('a[href], area[href]'),
    (a) => (a as HTMLAnchorElement).href,
  );
  const { wentTo } = document as unknown as { wentTo?: string[] };
  return { links: links.filter((href) => typeof href === 'string').slice(0, 3000), went: wentTo ?? [] };
}

/** Runs in the page: tells it that it is being hidden and left. */
function sayGoodbye(): void {
  Object.defineProperty(document, 'visibilityState', { get: () => 'hidden', configurable: true });
  document.dispatchEvent(new Event('visibilitychange', { bubbles: true }));
  dispatchEvent(new PageTransitionEvent('pagehide', { persisted: false }));
  dispatchEvent(new Event('unload'));
}

/** The result, or `fallback` when it fails or takes longer than `ms`: a page can hold its own answers back for ever. */
export async function within<T>(ms: number, work: Promise<T>, fallback: T): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<T>((done) => (timer = setTimeout(() => done(fallback), ms)));
  return Promise.race([work.catch(() => fallback), late]).finally(() => clearTimeout(timer));
}
