import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
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
  await send('POST', '', { address: `http://${site.host}/` }, '/api/websites');
  site.snippet = ((await ask('')) as { snippet: string }).snippet;
  await page.goto(`${desk.origin}${at}?tab=notice`);
  await page.getByRole('button', { name: 'Rehearse it' }).click();
  await page.getByRole('button', { name: /^Put it in force$/ }).click();
  await page.getByText(/^In force: visitors see it/).waitFor();
});
afterAll(async () => {
  site.stop();
  await desk?.stop();
});

const send = (method: string, path: string, data: object, from = `/api${at}`) =>
  page.request.fetch(`${desk.origin}${from}${path}`, { method, headers: { origin: desk.origin }, data });
const ask = async (path: string): Promise<unknown> =>
  (await page.request.get(`${desk.origin}/api${at}${path}`)).json();

async function visit(): Promise<void> {
  await page.goto(`${desk.origin}${at}?tab=visits`);
  await page.getByRole('button', { name: /^Visit( again)?$/ }).click();
  await page.getByText(/is done\.$/).waitFor({ timeout: 120_000 });
  await page.getByRole('table', { name: 'Time line of the visit' }).waitFor();
}
const marks = (row: string) =>
  page
    .getByRole('table', { name: 'Time line of the visit' })
    .getByRole('row', { name: row })
    .first()
    .getByRole('cell')
    .allInnerTexts();

describe('a visit', () => {
  it('shows a tag that runs before anybody answers, and why it may not', async () => {
    await send('POST', '/sweeps', {});
    await expect
      .poll(async () => ((await ask('')) as { sweep: { state: string } | null }).sweep?.state, {
        timeout: 120_000,
      })
      .toBe('complete');
    const { rows } = (await ask('/trackers?size=200')) as { rows: { id: number; host: string }[] };
    const ids = rows.filter((t) => t.host === 'tally.localhost').map((t) => t.id);
    await send('POST', '/trackers', { ids, purpose: 'measurement', because: '' });
    await visit();
    expect((await marks('count.js')).slice(2)).toEqual(['◆ ran', '◆ ran', '◆ ran']);
    await page.getByRole('button', { name: 'tally.localhost: count.js' }).first().click();
    const soundings = page.getByRole('complementary', { name: 'Soundings' });
    await soundings.getByText(/It needs Measurement\. In .* it may not run unless allowed/).waitFor();
    await soundings.getByText('State then').waitFor();
    await expectAccessible(page, 'a visit');
    const report = await page.request.get(`${desk.origin}/api${at}/visits/1/report.pdf`);
    expect((await report.body()).subarray(0, 5).toString()).toBe('%PDF-');
  }, 240_000);

  it('shows that it waits once it is marked, and is better than the one before', async () => {
    site.held = true;
    await visit();
    await expect
      .poll(async () => (await marks('count.js')).slice(2), { timeout: 30_000 })
      .toEqual(['▢ held', '▢ held', '▢ held']);
    await page.getByText(/✓ No more:.*count\.js/).waitFor();
    await page.goto(`${desk.origin}${at}?tab=tags`);
    await page.getByRole('link', { name: '▢ waited' }).first().waitFor();
    await expectAccessible(page, 'the tags');
  }, 180_000);
});

describe('the gate', () => {
  it('holds by itself what the sweep found, and a tag is said by keyboard to run reduced', async () => {
    await page.goto(`${desk.origin}${at}?tab=tags`);
    const mode = page.getByRole('button', { name: /^What the gate holds/ });
    await mode.focus();
    await page.keyboard.press('Enter');
    await page.getByRole('option', { name: /^by itself/ }).click();
    await page.getByText(/^Holds \d+ things? by itself/).waitFor();
    const until = page.getByRole('button', { name: /count\.js does until it is allowed/ });
    await until.focus();
    await page.keyboard.press('Enter');
    await page.getByRole('option', { name: /^runs reduced/ }).click();
    await page.getByRole('button', { name: /count\.js does until it is allowed.*runs reduced/ }).waitFor();
    const gate = (await ask('/gate')) as { plan: { holds: { name: string; without?: string[] }[] } };
    expect(gate.plan.holds.some((h) => h.without !== undefined)).toBe(true);
  }, 60_000);

  it('tells a tag system the state in words of its own, tried in the desk', async () => {
    await page.goto(`${desk.origin}${at}?tab=tags`);
    await page.getByRole('button', { name: 'Map a tag system' }).click();
    await page.getByText('What it would be told').click();
    await page.getByText(/after a refusal: \{"may":\{.*"measurement":"no"/).waitFor();
    const seen = await (await desk.browser.newContext()).newPage();
    await new Promise((done) => setTimeout(done, 2200));
    await seen.goto(`http://${site.host}/`);
    const queue = await seen.evaluate(() => (window as unknown as { tags: unknown[] }).tags);
    expect(queue[0]).toMatchObject({ may: { measurement: 'no' }, waitMs: 500 });
    await seen.context().close();
  }, 60_000);
});

describe('a second version', () => {
  it('is tried with a share of visitors, seen by them, and ended', async () => {
    await page.goto(`${desk.origin}${at}?tab=notice`);
    await page.getByRole('button', { name: /^Layout: / }).click();
    await page.getByRole('option', { name: /^corner card/ }).click();
    await page.getByText(/^Saved/).waitFor();
    await page.getByRole('button', { name: /^Rehearse (it|the changes)$/ }).click();
    await page.getByRole('button', { name: 'Try it with 10 %' }).click();
    await page.getByRole('button', { name: /^Share of visitors on trial/ }).click();
    await page.getByRole('option', { name: '50 %' }).click();
    await page.getByText('Too few have answered to compare them.').waitFor();
    const seen = new Set<string>();
    await new Promise((done) => setTimeout(done, 2200));
    for (let i = 0; i < 24 && seen.size < 2; i++) {
      const context = await desk.browser.newContext();
      const visitor = await context.newPage();
      await visitor.goto(`http://${site.host}/`);
      await visitor.locator('yare-notice').waitFor();
      seen.add(String(await visitor.locator('yare-notice').getAttribute('data-layout')));
      await context.close();
    }
    expect([...seen].toSorted()).toEqual(['corner card', 'strip']);
    await page.getByRole('button', { name: 'End the trial' }).click();
    await page.getByText('Everybody sees the version in force again.').waitFor();
  }, 90_000);
});

describe('the statement', () => {
  it('says what is missing, is answered in place, published and read by anybody', async () => {
    await page.goto(`${desk.origin}${at}?tab=statement`);
    const missing = page.getByText(/Who answers for it, and how to reach them \(GDPR, art\. 13\(1\)\(a\)\)/);
    await missing.waitFor();
    for (const [label, answer] of [
      ['Who answers for it', 'Harbour of Test'],
      ['Reached how', 'privacy@harbour.example'],
    ] as const) {
      await page.getByRole('button', { name: new RegExp(`^${label}`) }).click();
      await page.keyboard.type(answer);
      await page.keyboard.press('Enter');
      await page.getByRole('button', { name: new RegExp(`^${label}.*${answer}`) }).waitFor();
    }
    await missing.waitFor({ state: 'detached' });
    await page.getByRole('button', { name: /^Publish in / }).click();
    await page.getByText(/^Version 1, /).waitFor();
    await expectAccessible(page, 'the statement');
    const key = (await ask('')) as { siteKey: string; visitorOrigin: string };
    const html = await (await page.request.get(`${key.visitorOrigin}/${key.siteKey}/statement`)).text();
    expect(html).toContain('Harbour of Test');
  }, 60_000);
});
