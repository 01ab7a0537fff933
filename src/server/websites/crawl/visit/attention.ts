import { z } from 'zod';
import { pageAddress } from '../../../../core/websites/sweeps/frontier.ts';
import { NOTICE_PHRASES } from '../../../../core/websites/reading/control-words.ts';
import type { PageProbe } from '../page/page-probe.ts';
import { within } from '../../../processes/within.ts';

/** What a page was found to hold once somebody had paid attention to it. */
export interface Attended {
  /** Every address it links to, or tried to go to. */
  readonly links: readonly string[];
}

const QUIET_MS = 25;
const SETTLE_MS = 4_000;
/** How long a visitor stays, in the page's own time. */
const STAY_MS = 60_000;
const MOST_TIMERS = 60;
const MOST_PRESSES = 6;
const ANSWER_MS = 4000;
const MOST_LINKS = 3000;
const MOST_MARKS = 2000;
const MOST_ADDRESS = 16_000;

const Address = z.string().max(MOST_ADDRESS);
const Stands = z.object({ links: z.array(Address).max(MOST_LINKS), went: z.array(Address).max(50) });
const Pressed = z.object({
  pressed: z.array(z.string().max(2000)).max(MOST_PRESSES),
  spot: z.object({ x: z.number(), y: z.number() }).nullable(),
});

/** Controls that do something for good, and those that end the visit. */
export const LEAVE_ALONE =
  '\\b(log ?out|sign ?out|log ?in|sign ?in|delete|remove|buy|pay|order|book|send|submit|subscribe|unsubscribe|print|download|slet|fjern|køb|betal|bestil|ta bort|köp|beställ|löschen|kaufen|bezahlen|bestellen|abmelden|absenden)\\b';

/**
 * Behaves as an attentive visitor does: scrolls, stays a minute (the page's timers are run early instead), clicks on
 * the page and on the buttons not pressed before on this visit, and leaves. `notice`: plain words on controls of the notice,
 * which are left alone. `settled` is `false` when the page never
 * came to rest.
 */
export async function attend(
  probe: PageProbe,
  pressed: Set<string>,
  notice: ReadonlySet<string> = NOTICE_PHRASES,
): Promise<Attended & { readonly settled: boolean }> {
  const { world } = probe;
  let settled = await probe.settled(QUIET_MS, SETTLE_MS);
  if (probe.crashed) return { links: [], settled: false };
  probe.moment = 'scroll';
  await within(ANSWER_MS, world.run(world.main, scrollDown, null, z.undefined()), undefined);
  probe.moment = 'wait';
  settled = (await stay(probe)) && settled;
  probe.moment = 'click';
  await within(ANSWER_MS, clickAround(probe, pressed, notice), undefined);
  settled = (await stay(probe)) && settled;
  probe.moment = 'leave';
  const found = await within(ANSWER_MS, world.run(world.main, whatStands, MOST_LINKS, Stands), {
    links: [],
    went: [],
  });
  await within(ANSWER_MS, probe.sayGoodbye(), undefined);
  await probe.settled(10, 500);
  return { links: [...found.links, ...found.went], settled };
}

/** Lets the page's time pass until nothing more comes of it. */
async function stay(probe: PageProbe): Promise<boolean> {
  for (let round = 0; round < 4; round++) {
    const before = probe.requests;
    const ran = await within(ANSWER_MS, probe.passTime(STAY_MS, MOST_TIMERS), 0);
    const settled = await probe.settled(QUIET_MS, SETTLE_MS);
    if (!settled || probe.crashed) return false;
    if (ran === 0 || (round > 0 && probe.requests === before)) return true;
  }
  return true;
}

async function clickAround(
  probe: PageProbe,
  pressed: Set<string>,
  notice: ReadonlySet<string>,
): Promise<void> {
  const { world } = probe;
  const found = await world.run(
    world.main,
    pressButtons,
    {
      most: MOST_PRESSES,
      already: [...pressed],
      leaveAlone: LEAVE_ALONE,
      notices: [...notice],
    },
    Pressed,
  );
  if (pressed.size < MOST_MARKS) for (const mark of found.pressed) pressed.add(mark);
  if (found.spot) await probe.click(found.spot.x, found.spot.y);
}

/** Links that lead through another site and, by what they say, back to this one. */
export function bounceCandidates(links: readonly string[], from: string, host: string): string[] {
  const { hostname } = new URL(`http://${host}`);
  return links.filter((link) => {
    if (pageAddress(link, from, host) !== undefined || !/^https?:/.test(link) || !URL.canParse(link))
      return false;
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
  (globalThis as unknown as { wentTo?: string[] }).wentTo = went;
  const { navigation } = globalThis as unknown as { navigation?: EventTarget };
  navigation?.addEventListener('navigate', (event) => {
    const going = event as Going;
    if (!going.cancelable || going.hashChange || going.destination.sameDocument) return;
    if (went.length < 50) went.push(going.destination.url.slice(0, 16_000));
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
  document.dispatchEvent(new PointerEvent('pointermove', { bubbles: true, clientX: 200, clientY: 200 }));
  document.dispatchEvent(new KeyboardEvent('keydown', { bubbles: true, key: 'Shift' }));
  document.dispatchEvent(new Event('touchstart', { bubbles: true }));
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

interface Pressing {
  readonly most: number;
  readonly already: readonly string[];
  readonly leaveAlone: string;
  readonly notices: readonly string[];
}

/**
 * Runs in the page: presses buttons, but for those that send forms, do something for good or stand in a notice, and
 * touches a link to each of three other sites without following it. Says what it pressed, and finds a spot where a
 * click means nothing.
 */
function pressButtons({ most, already, leaveAlone, notices }: Pressing): {
  pressed: string[];
  spot: { x: number; y: number } | null;
} {
  const asks = /cookie|consent|samtykk|samtyck|einwillig|kakor|zustimm/i;
  const forGood = new RegExp(leaveAlone, 'i');
  const phrases = new Set(notices);
  const known = new Set(already);
  // Anything small enough to be a notice that speaks of cookies: rather one button too few than consent by mistake.
  const inNotice = (element: Element): boolean => {
    for (let e: Element | null = element; e && e !== document.body; e = e.parentElement) {
      if (/^yare-/.test(e.localName) || Element.prototype.hasAttribute.call(e, 'data-yare-open')) return true;
      if (asks.test(`${e.id} ${e.className}`)) return true;
      const text = String(e.textContent ?? '');
      if (text.length < 4000 && asks.test(text)) return true;
    }
    return false;
  };
  // A form named so must not stand in for a method of the document.
  const all = <E extends Element>(css: string) =>
    [...Document.prototype.querySelectorAll.call(document, css)] as E[];
  const buttons = all<HTMLElement>(
    'button, [role="button"], [role="tab"], summary, input[type="button"], [onclick]',
  );
  const chosen: { button: HTMLElement; mark: string }[] = [];
  for (const button of buttons.slice(0, 400)) {
    if (chosen.length >= most) break;
    const type = button.getAttribute('type');
    const sends = button.closest('form') && button.localName === 'button' && type !== 'button';
    const words = (
      button.textContent ||
      (button as HTMLInputElement).value ||
      button.getAttribute('aria-label') ||
      button.id ||
      '•'
    )
      .trim()
      .slice(0, 80);
    const mark = `${button.localName} ${button.id} ${button.className} ${words}`.slice(0, 2000);
    const plain = words.toLowerCase().replace(/\s+/g, ' ');
    if (sends || type === 'submit' || known.has(mark) || forGood.test(words) || phrases.has(plain)) continue;
    if (button.getBoundingClientRect().width === 0 || inNotice(button)) continue;
    chosen.push({ button, mark });
  }
  for (const { button } of chosen) button.click();
  const stay = (e: Event) => e.preventDefault();
  addEventListener('click', stay);
  const hosts = new Set<string>();
  for (const link of all<HTMLAnchorElement>('a[href^="http"], a[href^="//"]')) {
    if (link.host === location.host || hosts.has(link.host) || hosts.size >= 3) continue;
    hosts.add(link.host);
    for (const name of ['pointerdown', 'mousedown', 'pointerup', 'mouseup', 'click', 'auxclick'])
      link.dispatchEvent(
        name.startsWith('pointer')
          ? new PointerEvent(name, { bubbles: true, cancelable: true, composed: true })
          : new MouseEvent(name, { bubbles: true, cancelable: true, composed: true }),
      );
  }
  removeEventListener('click', stay);
  const spots = [
    ...all('h1, h2, p, main, section, article, footer')
      .slice(0, 40)
      .map((e) => e.getBoundingClientRect())
      .map((b) => ({ x: b.x + Math.min(6, b.width / 2), y: b.y + Math.min(6, b.height / 2) })),
    { x: 3, y: innerHeight / 2 },
    { x: innerWidth - 20, y: innerHeight / 2 },
  ];
  const spot = spots.find(({ x, y }) => {
    const hit = x >= 0 && y >= 0 && x <= innerWidth && y <= innerHeight && document.elementFromPoint(x, y);
    return (
      hit &&
      !/^yare-/.test(hit.localName) &&
      !hit.closest(
        'a, button, input, select, textarea, label, summary, iframe, video, [onclick], [role="button"], [contenteditable]',
      )
    );
  });
  return { pressed: chosen.map((c) => c.mark), spot: spot ?? null };
}

/** Runs in the page: what it links to, and where it tried to go. */
function whatStands(most: number): { links: string[]; went: string[] } {
  const found = Document.prototype.querySelectorAll.call(document, 'a[href], area[href]');
  const links = Array.from(found, (a) => (a as HTMLAnchorElement).href);
  const { wentTo } = globalThis as unknown as { wentTo?: string[] };
  return {
    links: links.filter((href) => typeof href === 'string' && href.length <= 16_000).slice(0, most),
    went: wentTo ?? [],
  };
}
