import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LAYOUTS, type Layout, type NoticeContent } from '../../src/core/websites/notice/notice.ts';
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

/** Where the law asks first, where it lets run unless refused, where visitors are told only, and where it is unknown. */
const REGIONS = [
  ['DK', true],
  ['US-CA', false],
  ['AU', false],
  ['XX', true],
] as const;

/** Puts it in force so, and in a language that is written from right to left besides. */
async function put(layout: Layout): Promise<void> {
  const ask = async <T>(method: string, path: string, data?: object) =>
    (await (
      await page.request.fetch(`${desk.origin}/api${path}`, {
        ...{ method, headers: { origin: desk.origin } },
        ...(data ? { data } : {}),
      })
    ).json()) as T;
  const { siteId, revision, content } = await ask<{
    siteId: number;
    revision: number;
    content: NoticeContent;
  }>('GET', `${at}/notice`);
  const english = content.texts['en'];
  const next = {
    ...{ ...content, layout, languages: ['en', 'da', 'ar'] },
    texts: { ...content.texts, ar: { ...english, title: 'اختيارك بشأن هذا الموقع' } },
  };
  const path = `/rules/notice/${siteId}`;
  const saved = await ask<{ revision: number }>('PUT', path, { revision, base: content, content: next });
  await ask('POST', `${path}/move`, { act: 'put in force', revision: saved.revision });
  // What the visitor service may lag behind.
  await new Promise((done) => setTimeout(done, 2200));
}

describe.each(LAYOUTS)('the notice as %s, by the law of the place', (layout) => {
  beforeAll(() => put(layout));
  it.each(REGIONS)(
    'from %s is reached and refused by keyboard, in both layers, also from right to left',
    async (region, asks) => {
      for (const language of ['en', 'ar']) {
        const context = await desk.browser.newContext({ viewport: { width: 1024, height: 768 } });
        await context.route(`${desk.visitorOrigin}/**`, (route) =>
          route.continue({ headers: { ...route.request().headers(), 'x-yare-region': region } }),
        );
        const visit = await context.newPage();
        await visit.addInitScript((tag) => {
          new MutationObserver(() => document.documentElement?.setAttribute('lang', tag)).observe(document, {
            childList: true,
          });
        }, language);
        await visit.goto(`http://${site.host}/`);
        const notice = visit.locator('yare-notice');
        if (!asks) {
          const again = visit.locator('yare-again button, [data-yare-open]').first();
          await again.waitFor();
          expect(await notice.count()).toBe(0);
          await again.focus();
          await visit.keyboard.press('Enter');
        }
        await notice.waitFor();
        const where = `${layout} from ${region} in ${language}`;
        expect(await notice.getAttribute('dir'), where).toBe(language === 'ar' ? 'rtl' : null);
        // It is open where something runs already, which one comes to change.
        if (asks) {
          await notice.locator('summary').first().focus();
          await visit.keyboard.press('Enter');
        }
        await notice.locator('button[data-choice="save"]').waitFor();
        await expectAccessible(visit, where);
        await notice.locator('button[data-choice="refuse"]').focus();
        await visit.keyboard.press('Enter');
        await notice.waitFor({ state: 'detached' });
        // What ran already starts the page anew without it.
        await visit.waitForFunction(
          () => window.yare?.state().answered && window.yare.allowed().length === 0,
        );
        await context.close();
      }
    },
  );
});

it('says its text with strong words and a link, written by keyboard as they read', async () => {
  await page.goto(`${desk.origin}${at}?tab=notice`);
  await page.getByRole('button', { name: /^Text: / }).press('Enter');
  const text = page.getByRole('textbox', { name: 'Text' });
  await text.press('Control+End');
  await page.keyboard.press('Control+b');
  await page.keyboard.type(' Nothing is sold.');
  await page.keyboard.press('Control+b');
  await page.keyboard.type(' policy');
  await text.getByText('policy').waitFor();
  for (let i = 0; i < 'policy'.length; i++) await page.keyboard.press('Shift+ArrowLeft');
  await expect.poll(() => page.evaluate(() => getSelection()?.toString())).toBe('policy');
  await page.getByRole('button', { name: 'Link', exact: true }).and(page.locator(':enabled')).press('Enter');
  const address = page.getByLabel('Where the chosen words lead');
  await address.fill('javascript:alert(1)');
  await address.press('Enter');
  await page.getByText('An address of the web, a page such as /privacy, or mailto:.').waitFor();
  await expectAccessible(page, 'the editor of a text');
  await address.fill('/contact');
  await address.press('Enter');
  await text.locator('a', { hasText: 'policy' }).waitFor();
  await text.press('Control+Enter');
  await page.getByText(/^Saved/).waitFor();
  await page.getByRole('button', { name: 'Put the changes in force' }).press('Enter');
  await page.getByText(/^In force: visitors see it/).waitFor();
  await new Promise((done) => setTimeout(done, 2200));
  const context = await desk.browser.newContext();
  const visit = await context.newPage();
  await visit.goto(`http://${site.host}/`);
  const notice = visit.locator('yare-notice');
  await notice.locator('strong', { hasText: 'Nothing is sold.' }).waitFor();
  await notice.getByRole('link', { name: 'policy' }).press('Enter');
  await visit.waitForURL(/\/contact$/);
  await context.close();
});
