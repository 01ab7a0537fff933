import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { SweepReport } from '../../src/core/websites/sweeps/sweep-report.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';
import { OwnSite } from './own-site.ts';

const site = new OwnSite();
let desk: RunningDesk;
let page: Page;
let at = '';

const api = async (method: 'post' | 'get', path: string, data?: object) => {
  const headers = { origin: desk.origin };
  const answer = await page.request[method](`${desk.origin}/api${path}`, {
    headers,
    ...(data ? { data } : {}),
  });
  expect(answer.status(), path).toBe(200);
  return (await answer.json()) as never;
};

/** A site with our notice in force, whose two tags wait for their purposes. */
beforeAll(async () => {
  await site.start();
  desk = await startDesk(site.port);
  page = await desk.signedIn();
  at = `/websites/${encodeURIComponent(site.host)}`;
  await api('post', '/websites', { address: `http://${site.host}/` });
  const detail: { snippet: string } = await api('get', at);
  site.snippet = detail.snippet;
  site.held = true;
  const { siteId }: { siteId: number } = await api('get', `${at}/notice`);
  for (const act of ['rehearse', 'put in force'])
    await api('post', `/rules/notice/${siteId}/move`, { act, revision: 1 });
});
afterAll(async () => {
  site.stop();
  await desk?.stop();
});

/** What reached the other company once a visitor from there had come to the page. */
async function comeFrom(region: string, gpc = false) {
  const context = await desk.browser.newContext(gpc ? { extraHTTPHeaders: { 'Sec-GPC': '1' } } : {});
  // As a proxy before the service says it.
  await context.route(`${desk.visitorOrigin}/**`, (route) =>
    route.continue({ headers: { ...route.request().headers(), 'x-yare-region': region } }),
  );
  const visit = await context.newPage();
  if (gpc)
    await visit.addInitScript(() =>
      Object.defineProperty(navigator, 'globalPrivacyControl', { get: () => true }),
    );
  site.reached.length = 0;
  await visit.goto(`http://${site.host}/contact`, { waitUntil: 'networkidle' });
  return { visit, reached: () => [...new Set(site.reached)].filter((p) => p.endsWith('.js')).toSorted() };
}

const mark = (name: string) => page.getByRole('button', { name });

describe('the table of regimes', () => {
  it('is read at a glance, changed by keyboard in place, and undone', async () => {
    await page.goto(`${desk.origin}/websites/regimes`);
    await page.getByRole('row', { name: /^Quebec/ }).waitFor();
    await expectAccessible(page, 'the table of regimes');
    const advertising = mark('Advertising in Switzerland: runs until refused');
    await advertising.focus();
    await page.keyboard.press('Enter');
    await mark('Advertising in Switzerland: waits to be allowed').waitFor();
    await page.getByText('said by The officer').waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await advertising.waitFor();
    // Where the law asks first there is nothing to switch.
    await page.getByRole('img', { name: 'Advertising in Quebec: waits to be allowed' }).waitFor();
  });

  it('takes in a region of the organisation’s own, and takes it out again', async () => {
    await page.getByRole('button', { name: /^Add a region/ }).click();
    await page.keyboard.type('jp');
    await page.keyboard.press('Enter');
    await page.getByRole('row', { name: /^Japan/ }).waitFor();
    await mark('Take back what is said of Japan').click();
    await page.getByRole('row', { name: /^Japan/ }).waitFor({ state: 'detached' });
  });
});

describe('a visitor', () => {
  it('is asked first where the law asks first, and nothing runs until then', async () => {
    const { visit, reached } = await comeFrom('DK');
    await visit.locator('yare-notice').waitFor();
    expect(reached()).toEqual([]);
    await visit.context().close();
  });

  it('is not asked where it runs unless refused, finds the control, refuses, and it runs no more', async () => {
    const { visit, reached } = await comeFrom('US-VA');
    await visit.locator('yare-again button').waitFor();
    expect(await visit.locator('yare-notice').count()).toBe(0);
    expect(reached()).toEqual(['/ads.js', '/count.js']);
    await visit.locator('yare-again button').click();
    await visit.locator('yare-notice button[data-choice="refuse"]').click();
    await visit.waitForEvent('load');
    site.reached.length = 0;
    await visit.reload({ waitUntil: 'networkidle' });
    expect(reached()).toEqual([]);
    expect(await visit.locator('yare-notice').count()).toBe(0);
    await visit.context().close();
  });

  it('is taken at their browser’s word where the signal counts, and not where it does not', async () => {
    for (const [region, expected] of [
      ['US-CA', ['/count.js']],
      ['US-VA', ['/ads.js', '/count.js']],
    ] as const) {
      const { visit, reached } = await comeFrom(region, true);
      expect(reached(), region).toEqual(expected);
      await visit.context().close();
    }
  });
});

describe('a sweep', () => {
  it.each([
    ['DK', { 'request /count.js': ['accepted', 'chosen'], 'request /ads.js': ['accepted'] }],
    [
      'US-CA',
      {
        'request /count.js': ['before', 'accepted', 'chosen', 'gpc'],
        'request /ads.js': ['before', 'accepted'],
      },
    ],
  ])('as from %s sees just what the law there lets run, and no leak', async (region, expected) => {
    const { sweep }: { sweep: number } = await api('post', `${at}/sweeps`, { region, maxPages: 2 });
    let report: SweepReport | undefined;
    for (let i = 0; i < 120 && !report; i++) {
      await page.waitForTimeout(1000);
      const answer = await page.request.get(`${desk.origin}/api${at}/sweeps/${sweep}/report.json`);
      if (answer.ok()) ({ report } = (await answer.json()) as { report: SweepReport });
    }
    const states = (report?.trackers ?? [])
      .filter((t) => t.host === 'tally.localhost' && t.name.endsWith('.js'))
      .map((t) => [`${t.kind} ${t.name}`, t.states] as const);
    expect(Object.fromEntries(states)).toEqual(expected);
    const ofTally = report?.trackers.filter((t) => `${t.host} ${t.name}`.includes('tally'));
    expect(ofTally?.flatMap((t) => t.leaks.map((v) => `${t.name}: ${v}`))).toEqual([]);
    expect(report?.visitors.every((v) => v.tried)).toBe(true);
  });
});
