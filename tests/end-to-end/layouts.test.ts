import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LAYOUTS, type Layout } from '../../src/core/websites/notice/notice.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';
import { OwnSite } from './own-site.ts';

const site = new OwnSite();
let desk: RunningDesk;
let page: Page;
let at = '';

beforeAll(async () => {
  await site.start();
  desk = await startDesk(site.port);
  page = await desk.signedIn();
  at = `/websites/${encodeURIComponent(site.host)}`;
  const data = { address: `http://${site.host}/` };
  await page.request.post(`${desk.origin}/api/websites`, { headers: { origin: desk.origin }, data });
  const detail = await page.request.get(`${desk.origin}/api${at}`);
  site.snippet = ((await detail.json()) as { snippet: string }).snippet;
});
afterAll(async () => {
  site.stop();
  await desk?.stop();
});

/** Chooses a layout in the notice's sentence, and rehearses or puts it in force. */
async function show(layout: Layout): Promise<void> {
  await page.goto(`${desk.origin}${at}?tab=notice`);
  const slot = page.getByRole('button', { name: /^Layout: / });
  await slot.waitFor();
  if (layout !== 'strip') {
    await slot.click();
    await page.getByRole('option', { name: new RegExp(`^${layout}`) }).click();
    await page.getByText(/^Saved/).waitFor();
  }
  // What was never in force is rehearsed before it is.
  if (layout === 'strip') await page.getByRole('button', { name: 'Rehearse it' }).click();
  await page.getByRole('button', { name: /^Put (it|the changes) in force$/ }).click();
  await page.getByText(/^In force: visitors see it/).waitFor();
}

describe.each(LAYOUTS)('the notice as %s', (layout) => {
  it('asks on a phone and a desktop, leaves the page usable, and is answered by keyboard', async () => {
    await show(layout);
    for (const viewport of [
      { width: 360, height: 740 },
      { width: 1280, height: 800 },
    ]) {
      const context = await desk.browser.newContext({ viewport });
      const visit = await context.newPage();
      await visit.goto(`http://${site.host}/`);
      const notice = visit.locator('yare-notice');
      await notice.waitFor();
      expect(await notice.getAttribute('data-layout')).toBe(layout);
      await expectAccessible(visit, `${layout} at ${viewport.width}`);
      const [refuse, accept] = await Promise.all(
        ['refuse', 'accept'].map((c) => notice.locator(`button[data-choice="${c}"]`).boundingBox()),
      );
      // The same weight for both, within the window, large enough for a thumb.
      expect([refuse?.width, refuse?.height]).toEqual([accept?.width, accept?.height]);
      expect(refuse!.height).toBeGreaterThanOrEqual(44);
      for (const box of [refuse!, accept!]) expect(box.x + box.width).toBeLessThanOrEqual(viewport.width);
      expect(await visit.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
      if (viewport.width > 1000) {
        // No wall: the page's own links are there to be pressed.
        await visit.getByRole('link', { name: '/fish' }).click({ timeout: 3000 });
        await notice.waitFor();
      }
      await notice.locator('summary').focus();
      await visit.keyboard.press('Enter');
      await expectAccessible(visit, `${layout} at ${viewport.width}, second layer`);
      await visit.keyboard.press('Tab');
      await visit.keyboard.press('Space');
      await notice.locator('button[data-choice="save"]').focus();
      await visit.keyboard.press('Enter');
      await notice.waitFor({ state: 'detached' });
      expect(await visit.evaluate(() => window.yare?.allowed())).toEqual(['preferences']);
      await context.close();
    }
  });
});
