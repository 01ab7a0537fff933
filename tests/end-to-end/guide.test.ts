import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { GUIDE_PAGES } from '../../src/core/desk/guide.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;

beforeAll(async () => {
  desk = await startDesk();
  page = await desk.signedIn();
});
afterAll(() => desk?.stop());

describe('the guide', () => {
  it('is reached by one key from where one is, and leads on', async () => {
    await page.goto(`${desk.origin}/holdings`);
    await page.getByRole('searchbox').first().waitFor();
    await page.keyboard.press('?');
    await page.getByRole('link', { name: 'Read about it in the guide' }).click();
    await page.getByRole('heading', { level: 1, name: 'What we hold' }).waitFor();
    expect(new URL(page.url()).pathname).toBe('/guide/holdings');
    await expectAccessible(page, 'a page of the guide');
    await page.getByRole('link', { name: 'For programs' }).click();
    await page.getByRole('heading', { level: 2, name: 'Webhooks' }).waitFor();
    await page.getByRole('link', { name: 'Back to the desk' }).click();
    await page.waitForURL(/\/today/);
  }, 60_000);

  it('shows each of its pages, to whoever is signed in', async () => {
    for (const { id } of GUIDE_PAGES) {
      const response = await page.request.get(`${desk.origin}/guide/${id}`);
      expect(response.status(), id).toBe(200);
      expect(await response.text(), id).toContain('<h1 id=');
    }
    expect((await page.request.get(`${desk.origin}/guide/no-such`)).status()).toBe(404);
    const stranger = await fetch(`${desk.origin}/guide/start`, { redirect: 'manual' });
    expect(stranger.status).toBe(302);
  }, 60_000);
});
