import type { Page } from 'playwright-core';
import { z } from 'zod';
import { wayOf, withSwitches, type NoticeReading } from '../../../../core/websites/reading/notice-reading.ts';
import { wayWords, type NoticeWay } from '../../../../core/websites/reading/notice-way.ts';
import { pause } from '../../../processes/pause.ts';
import { within } from '../../../processes/within.ts';
import { goWay } from './notice-hand.ts';
import type { SitePaths } from '../../../../core/websites/sweeps/click-path.ts';
import type { Choice } from '../../../../core/websites/trackers/visitor.ts';
import { playPath } from '../visit/click-path-player.ts';
import { FIRST_PURPOSES } from '../../../../core/websites/notice/purpose.ts';
import { switchPurpose } from '../../../../core/websites/reading/switch-purpose.ts';
import { NOTICE_WORDS, plainWords } from '../../../../core/websites/reading/control-words.ts';
import type { PageWorld } from '../page/page-world.ts';

export type Operated =
  | {
      readonly how: 'our notice' | 'the notice' | 'another notice' | 'the recorded path';
      readonly pressed: string;
    }
  | undefined;

export interface Wish {
  readonly choice: Choice;
  /** The purposes to allow, where the choice is one's own. */
  readonly purposes: readonly string[];
  readonly paths: SitePaths;
  /** How the notice was read, where it was. */
  readonly reading: NoticeReading | null;
  /** The only switch to be on, where the choice is one's own. */
  readonly onlySwitch?: string | undefined;
}

/** The way that a notice as it was read offers for the wish. */
export function readWay({ reading, choice, purposes, onlySwitch }: Wish): NoticeWay | null {
  if (!reading) return null;
  const way = wayOf(reading, choice, purposes);
  return way && onlySwitch !== undefined ? withSwitches(way, [onlySwitch]) : way;
}

const CONTROLS =
  'button, [role="button"], input[type="button"], input[type="submit"], a, [onclick], label, summary, [tabindex="0"]';

/**
 * Makes a choice as a person would: by the recorded path where there is one, else on our notice, else on another's
 * found by what its controls say and do. `undefined` when there is nothing to press. Throws a PathError.
 */
export async function operateNotice(
  page: Page,
  world: PageWorld,
  wish: Wish,
  waitMs: number,
): Promise<Operated> {
  const path = wish.paths[wish.choice];
  if (path.length > 0) {
    await playPath(page, wish.paths, wish.choice);
    return { how: 'the recorded path', pressed: `${path.length} steps` };
  }
  const way = readWay(wish);
  if (way && wish.reading && (await goWay(page, world, way)).outcome === 'gone') {
    const why =
      wish.onlySwitch === undefined && wish.choice !== 'choose'
        ? (wish.reading.roles[wish.choice]?.why ?? '')
        : '';
    return { how: 'the notice', pressed: `${wayWords(way)}${why && `: ${lowerFirst(why)}`}` };
  }
  // It was read, and offers no such way.
  if (wish.reading && !way) return undefined;
  const until = Date.now() + waitMs;
  do {
    const own = await operateOwn(page, wish);
    if (own) return { how: 'our notice', pressed: own };
    for (const frame of world.frames()) {
      const pressed = await operateOther({ world, frame }, wish).catch(() => undefined);
      if (pressed) return { how: 'another notice', pressed };
    }
    await pause(100);
  } while (Date.now() < until);
  return undefined;
}

const ANSWER_MS = 2000;

/** Our notice as it stands, or brought back by its control where it opens to nobody by itself; `false` where there is none. */
export async function openOwn(page: Page): Promise<boolean> {
  const isThere = (css: string) => within(ANSWER_MS, page.locator(css).count(), 0).then((n) => n > 0);
  if (await isThere('yare-notice')) return true;
  // A control that the site placed is only ours where our script runs.
  if (!(await isThere('yare-again')) && !(await isOurs(page))) return false;
  const control = page.locator('yare-again button, [data-yare-open]').first();
  await control.click({ timeout: ANSWER_MS }).catch(() => {});
  return isThere('yare-notice');
}

/** Whether our script runs on the page; what the page says of it, and as long as it lets anybody ask. */
function isOurs(page: Page): Promise<boolean> {
  const asked = page.evaluate(() => typeof window.yare?.open === 'function');
  return within(ANSWER_MS, asked, false);
}

/** Answers our own notice; the words on the control that was pressed. */
export async function operateOwn(
  page: Page,
  { choice, purposes }: Pick<Wish, 'choice' | 'purposes'>,
): Promise<string | undefined> {
  const notice = page.locator('yare-notice');
  const button = notice.locator(`button[data-choice="${choice === 'choose' ? 'save' : choice}"]`).first();
  if (!(await openOwn(page))) return undefined;
  if (choice === 'choose') {
    const details = notice.locator('details');
    if ((await details.getAttribute('open').catch(() => null)) === null)
      await notice
        .locator('summary')
        .click({ timeout: 3000 })
        .catch(() => {});
    for (const box of await notice.locator('input[type="checkbox"]:not(:disabled)').all())
      await box.setChecked(purposes.includes(await box.inputValue()), { timeout: 3000 });
  }
  if (!(await button.isVisible().catch(() => false))) return undefined;
  const pressed = (await button.textContent())?.trim().slice(0, 200) ?? '';
  await button.click({ timeout: 5000 });
  return pressed;
}

interface InFrame {
  readonly world: PageWorld;
  readonly frame: string;
}

async function operateOther(at: InFrame, wish: Wish): Promise<string | undefined> {
  if (wish.choice !== 'choose') {
    const pressed = await press(at, NOTICE_WORDS[wish.choice]);
    if (pressed !== undefined) return pressed;
    if (wish.choice === 'accept') return undefined;
  }
  // Where there is no such control at first, it may stand behind another.
  if (!(await at.world.run(at.frame, asksForConsent, null, z.boolean()).catch(() => false))) return undefined;
  const opened = await press(at, NOTICE_WORDS.settings, false);
  if (opened === undefined && (await boxes(at)).length === 0) return undefined;
  await pause(250);
  if (wish.choice === 'refuse') {
    const pressed = await press(at, NOTICE_WORDS.refuse);
    if (pressed !== undefined) return [opened, pressed].filter(Boolean).join(', ');
  }
  const ticked = await tick(at, wish.choice === 'choose' ? wish.purposes : []);
  const saved = await press(at, NOTICE_WORDS.save);
  return saved === undefined ? undefined : [opened, ...ticked, saved].filter(Boolean).join(', ');
}

const Box = z.object({ index: z.int().nonnegative(), words: z.string().max(300), on: z.boolean() });
type Box = z.infer<typeof Box>;
const MOST_BOXES = 60;
const MOST_CONTROLS = 600;
const MOST_WORDS = 120;

/** The boxes and switches that are shown and may be changed. */
async function boxes({ world, frame }: InFrame): Promise<Box[]> {
  return world.run(frame, shownBoxes, MOST_BOXES, z.array(Box).max(MOST_BOXES)).catch(() => []);
}

/** Ticks the boxes of these purposes and no other; the words of what is on in the end. */
async function tick(at: InFrame, purposes: readonly string[]): Promise<string[]> {
  const on: string[] = [];
  for (const box of await boxes(at)) {
    const wanted =
      purposes.includes(switchPurpose(box.words) ?? '') || purposes.some((p) => isNamed(p, box.words));
    if (box.on !== wanted) await at.world.press(at.frame, 'yareBoxes', box.index).catch(() => false);
    if (wanted) on.push(`☑ ${plainWords(box.words).slice(0, 40)}`);
  }
  return on;
}

function lowerFirst(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}

/** A purpose of the organisation's own, by its name. */
function isNamed(purpose: string, words: string): boolean {
  return !FIRST_PURPOSES.some((p) => p.code === purpose) && words.toLowerCase().includes(purpose);
}

/**
 * Presses the shown control whose words come first in the list. `ends`: pressing it should end the notice, so one that
 * changes nothing on the page is passed over.
 */
async function press(at: InFrame, words: readonly string[], ends = true): Promise<string | undefined> {
  const texts = (await controlWords(at, true)) ?? [];
  const plain = texts.map(plainWords);
  for (const word of words)
    for (const [index, text] of plain.entries()) {
      if (text !== word) continue;
      const done = await at.world.press(at.frame, 'yareControls', index).catch(() => false);
      if (!done) continue;
      // It may fade away.
      for (let look = 0; look < 6; look++) {
        await pause(100);
        if (!ends || !(await isShown(at, index)) || (await changed(at, texts))) return text;
      }
    }
  return undefined;
}

function isShown({ world, frame }: InFrame, index: number): Promise<boolean> {
  return world.run(frame, controlShown, index, z.boolean()).catch(() => false);
}

/** Something came or went among the controls, or the frame itself is gone. */
async function changed(at: InFrame, before: readonly string[]): Promise<boolean> {
  const after = await controlWords(at, false);
  return after === undefined || after.join('\n') !== before.join('\n');
}

/** The words on each control of a frame; `keep` for pressing one of them. `undefined` where the frame is gone. */
async function controlWords({ world, frame }: InFrame, keep: boolean): Promise<string[] | undefined> {
  return world
    .run(
      frame,
      shownControls,
      { css: CONTROLS, most: MOST_CONTROLS, keep },
      z.array(z.string().max(MOST_WORDS)).max(MOST_CONTROLS),
    )
    .catch(() => undefined);
}

/* What follows runs in the page. */

/** The words on each control, within open shadow trees too; '' for one that cannot be seen. */
function shownControls({
  css,
  most,
  keep,
}: {
  readonly css: string;
  readonly most: number;
  readonly keep: boolean;
}): string[] {
  const found: Element[] = [];
  const visit = (root: Document | ShadowRoot) => {
    const query = root instanceof Document ? Document.prototype : DocumentFragment.prototype;
    for (const e of query.querySelectorAll.call(root, css)) if (found.length < most) found.push(e);
    for (const e of query.querySelectorAll.call(root, '*')) if (e.shadowRoot) visit(e.shadowRoot);
  };
  visit(document);
  if (keep) (globalThis as unknown as { yareControls?: Element[] }).yareControls = found;
  return found.map((b) => {
    const box = b.getBoundingClientRect();
    const shown = box.width > 0 && box.height > 0 && getComputedStyle(b).visibility !== 'hidden';
    if (!shown) return '';
    const href = b.localName === 'a' ? b.getAttribute('href') : null;
    // A link to another page is no control of a notice.
    if (href !== null && !/^(#|\?|javascript:)/i.test(href)) return '';
    const text = String((b as HTMLInputElement).value || b.textContent || '').slice(0, 5000);
    return (text.trim() || b.getAttribute('aria-label') || b.getAttribute('title') || '').slice(0, 120);
  });
}

function controlShown(index: number): boolean {
  const control = (globalThis as unknown as { yareControls?: Element[] }).yareControls?.[index];
  if (!control?.isConnected) return false;
  const { width, height } = control.getBoundingClientRect();
  return width > 0 && height > 0 && getComputedStyle(control).visibility !== 'hidden';
}

function shownBoxes(most: number): { index: number; words: string; on: boolean }[] {
  const found: Element[] = [];
  const visit = (root: Document | ShadowRoot) => {
    const query = root instanceof Document ? Document.prototype : DocumentFragment.prototype;
    const css =
      'input[type="checkbox"]:not(:disabled), [role="switch"]:not([aria-disabled="true"]), [role="checkbox"]:not([aria-disabled="true"])';
    for (const e of query.querySelectorAll.call(root, css)) if (found.length < most) found.push(e);
    for (const e of query.querySelectorAll.call(root, '*')) if (e.shadowRoot) visit(e.shadowRoot);
  };
  visit(document);
  (globalThis as unknown as { yareBoxes?: Element[] }).yareBoxes = found;
  return found.flatMap((b, index) => {
    const box = b as HTMLInputElement;
    const label = box.labels?.[0] ?? b.closest('label') ?? b.parentElement;
    const shown = [b, label].some((e) => e && e.getBoundingClientRect().width > 0);
    const said = [b.getAttribute('aria-label'), label?.textContent, box.name, b.id, box.value];
    const words = said.filter(Boolean).join(' ').slice(0, 300);
    const on = box.checked === true || b.getAttribute('aria-checked') === 'true';
    return shown && words !== '' ? [{ index, words, on }] : [];
  });
}

function asksForConsent(): boolean {
  const text = String(document.body?.innerText ?? '').slice(0, 200_000);
  return /cookie|consent|samtykk|samtyck|einwillig|kakor|informasjonskaps|évästei|eväste|privacy|tracking|zustimm/i.test(
    text,
  );
}
