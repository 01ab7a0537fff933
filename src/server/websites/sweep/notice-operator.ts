import type { Frame, Locator, Page } from 'playwright-core';
import type { SitePaths } from '../../../core/websites/click-path.ts';
import type { Choice } from '../../../core/websites/visitor.ts';
import { playPath } from './click-path-player.ts';
import { NOTICE_WORDS, plainWords, PURPOSE_WORDS } from './notice-words.ts';

export type Operated =
  | { readonly how: 'our notice' | 'another notice' | 'the recorded path'; readonly pressed: string }
  | undefined;

export interface Wish {
  readonly choice: Choice;
  /** The purposes to allow, where the choice is one's own. */
  readonly purposes: readonly string[];
  readonly paths: SitePaths;
}

const CONTROLS =
  'button, [role="button"], input[type="button"], input[type="submit"], a, [onclick], label, summary, [tabindex="0"]';

/**
 * Makes a choice as a person would: by the recorded path where there is one, else on our notice, else on another's
 * found by what its controls say and do. `undefined` when there is nothing to press. Throws a PathError.
 */
export async function operateNotice(page: Page, wish: Wish, waitMs: number): Promise<Operated> {
  const path = wish.paths[wish.choice];
  if (path.length > 0) {
    await playPath(page, path);
    return { how: 'the recorded path', pressed: `${path.length} steps` };
  }
  const until = Date.now() + waitMs;
  do {
    const own = await operateOwn(page, wish);
    if (own) return { how: 'our notice', pressed: own };
    for (const frame of page.frames()) {
      const pressed = await operateOther(frame, wish);
      if (pressed) return { how: 'another notice', pressed };
    }
    await page.waitForTimeout(100);
  } while (Date.now() < until);
  return undefined;
}

async function operateOwn(page: Page, { choice, purposes }: Wish): Promise<string | undefined> {
  const notice = page.locator('yare-notice');
  const button = notice.locator(`button[data-choice="${choice === 'choose' ? 'save' : choice}"]`).first();
  if ((await notice.count().catch(() => 0)) === 0) return undefined;
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
  const pressed = (await button.textContent())?.trim() ?? '';
  await button.click({ timeout: 5000 });
  return pressed;
}

async function operateOther(frame: Frame, wish: Wish): Promise<string | undefined> {
  if (wish.choice !== 'choose') {
    const pressed = await press(frame, NOTICE_WORDS[wish.choice]);
    if (pressed !== undefined) return pressed;
    if (wish.choice === 'accept') return undefined;
  }
  // Where there is no such control at first, it may stand behind another.
  if (!(await asksForConsent(frame))) return undefined;
  const opened = await press(frame, NOTICE_WORDS.settings, false);
  if (opened === undefined && (await boxes(frame)).length === 0) return undefined;
  await frame.page().waitForTimeout(250);
  if (wish.choice === 'refuse') {
    const pressed = await press(frame, NOTICE_WORDS.refuse);
    if (pressed !== undefined) return [opened, pressed].filter(Boolean).join(', ');
  }
  const ticked = await tick(frame, wish.choice === 'choose' ? wish.purposes : []);
  const saved = await press(frame, NOTICE_WORDS.save);
  return saved === undefined ? undefined : [opened, ...ticked, saved].filter(Boolean).join(', ');
}

interface Box {
  readonly control: Locator;
  readonly words: string;
  readonly on: boolean;
}

/** The boxes and switches that are shown and may be changed. */
async function boxes(frame: Frame): Promise<Box[]> {
  const controls = frame.locator(
    'input[type="checkbox"]:not(:disabled), [role="switch"]:not([aria-disabled="true"]), [role="checkbox"]:not([aria-disabled="true"])',
  );
  const told = await controls
    .evaluateAll((all) =>
      all.slice(0, 60).map((b) => {
        const box = b as HTMLInputElement;
        const label = box.labels?.[0] ?? b.closest('label') ?? b.parentElement;
        const words = [b.getAttribute('aria-label'), label?.textContent, box.name, b.id, box.value];
        const shown = [b, label].some((e) => e && e.getBoundingClientRect().width > 0);
        return {
          words: shown ? words.filter(Boolean).join(' ').slice(0, 300) : '',
          on: box.checked || b.getAttribute('aria-checked') === 'true',
        };
      }),
    )
    .catch(() => []);
  return told.map((t, i) => ({ control: controls.nth(i), ...t })).filter((b) => b.words !== '');
}

/** Ticks the boxes of these purposes and no other; the words of what is on in the end. */
async function tick(frame: Frame, purposes: readonly string[]): Promise<string[]> {
  const on: string[] = [];
  for (const box of await boxes(frame)) {
    const wanted = purposes.some(
      (p) => PURPOSE_WORDS[p]?.test(box.words) ?? box.words.toLowerCase().includes(p),
    );
    if (box.on !== wanted)
      await box.control
        .click({ timeout: 2000 })
        .catch(() => box.control.evaluate((e) => (e as HTMLElement).click()))
        .catch(() => {});
    if (wanted) on.push(`☑ ${plainWords(box.words).slice(0, 40)}`);
  }
  return on;
}

/**
 * Presses the shown control whose words come first in the list. `ends`: pressing it should end the notice, so one that
 * changes nothing on the page is passed over.
 */
async function press(frame: Frame, words: readonly string[], ends = true): Promise<string | undefined> {
  const controls = frame.locator(CONTROLS);
  const texts = await controls.evaluateAll(shownWords).catch(() => [] as string[]);
  const plain = texts.map(plainWords);
  for (const word of words)
    for (const [at, text] of plain.entries()) {
      if (text !== word) continue;
      const control = controls.nth(at);
      const done = await control.click({ timeout: 3000 }).then(
        () => true,
        () => false,
      );
      if (!done) continue;
      // It may fade away.
      for (let look = 0; look < 6; look++) {
        await frame.page().waitForTimeout(100);
        if (!ends || !(await control.isVisible().catch(() => false)) || (await changed(frame, texts)))
          return text;
      }
    }
  return undefined;
}

/** Something came or went among the controls, or the frame itself is gone. */
async function changed(frame: Frame, before: readonly string[]): Promise<boolean> {
  const after = await frame
    .locator(CONTROLS)
    .evaluateAll(shownWords)
    .catch(() => undefined);
  return after === undefined || after.join('\n') !== before.join('\n');
}

/** Runs in the page: the words on each control, '' for one that cannot be seen. */
function shownWords(all: Element[]): string[] {
  return all.slice(0, 600).map((b) => {
    const box = b.getBoundingClientRect();
    const shown = box.width > 0 && box.height > 0 && getComputedStyle(b).visibility !== 'hidden';
    const text = (b as HTMLInputElement).value || b.textContent || '';
    const href = b.localName === 'a' ? b.getAttribute('href') : null;
    // A link to another page is no control of a notice.
    if (href !== null && !/^(#|\?|javascript:)/i.test(href)) return '';
    return shown
      ? (text.trim() || b.getAttribute('aria-label') || b.getAttribute('title') || '').slice(0, 120)
      : '';
  });
}

async function asksForConsent(frame: Frame): Promise<boolean> {
  const text = await frame.evaluate(() => (document.body?.innerText ?? '').slice(0, 200_000)).catch(() => '');
  return /cookie|consent|samtykk|samtyck|einwillig|kakor|informasjonskaps|évästei|eväste|privacy|tracking|zustimm/i.test(
    text,
  );
}
