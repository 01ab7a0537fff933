import type { Frame, Page } from 'playwright-core';

export type Operated =
  { readonly how: 'our notice' | 'another notice'; readonly pressed: string } | undefined;

/** What people write on the buttons, in the languages sites of the region use. */
const WORDS = {
  accept: [
    'accept all',
    'allow all',
    'accept',
    'agree',
    'i agree',
    'allow',
    'ok',
    'got it',
    'accepter alle',
    'tillad alle',
    'accepter',
    'godkend alle',
    'acceptera alla',
    'godkänn alla',
    'tillåt alla',
    'alle akzeptieren',
    'alle zulassen',
    'akzeptieren',
    'zustimmen',
    'tout accepter',
    'aceptar todo',
    'accetta tutto',
    'alles accepteren',
  ],
  refuse: [
    'refuse all',
    'reject all',
    'decline all',
    'refuse',
    'reject',
    'decline',
    'only necessary',
    'necessary only',
    'only essential',
    'essential only',
    'no thanks',
    'afvis alle',
    'kun nødvendige',
    'afvis',
    'avvisa alla',
    'endast nödvändiga',
    'neka alla',
    'alle ablehnen',
    'nur notwendige',
    'ablehnen',
    'tout refuser',
    'rechazar todo',
    'rifiuta tutto',
    'alles weigeren',
  ],
} as const;

/**
 * Makes a choice as a person would: presses the button, on our notice or on another's found by what its buttons say.
 * `undefined` when there is nothing to press.
 */
export async function operateNotice(
  page: Page,
  choice: 'accept' | 'refuse',
  waitMs: number,
): Promise<Operated> {
  const until = Date.now() + waitMs;
  do {
    const own = page.locator(`yare-notice button[data-choice="${choice}"]`).first();
    if (await own.isVisible().catch(() => false)) {
      const pressed = (await own.textContent())?.trim() ?? '';
      await own.click({ timeout: 5000 });
      return { how: 'our notice', pressed };
    }
    for (const frame of page.frames()) {
      const pressed = await pressByWords(frame, choice);
      if (pressed) return { how: 'another notice', pressed };
    }
    await page.waitForTimeout(100);
  } while (Date.now() < until);
  return undefined;
}

async function pressByWords(frame: Frame, choice: 'accept' | 'refuse'): Promise<string | undefined> {
  const buttons = frame.locator(
    'button, [role="button"], input[type="button"], input[type="submit"], a[href="#"], a:not([href])',
  );
  const texts = await buttons
    .evaluateAll((all) =>
      all.slice(0, 300).map((b) => {
        const box = b.getBoundingClientRect();
        const shown = box.width > 0 && box.height > 0 && getComputedStyle(b).visibility !== 'hidden';
        const text = (b as HTMLInputElement).value || b.textContent || b.getAttribute('aria-label') || '';
        return shown ? text.trim().toLowerCase().replace(/\s+/g, ' ').slice(0, 60) : '';
      }),
    )
    .catch(() => [] as string[]);
  for (const word of WORDS[choice]) {
    const at = texts.indexOf(word);
    if (at < 0) continue;
    const done = await buttons
      .nth(at)
      .click({ timeout: 3000 })
      .then(
        () => true,
        () => false,
      );
    if (done) return texts[at];
  }
  return undefined;
}
