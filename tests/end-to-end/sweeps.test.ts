import { createHash } from 'node:crypto';
import canonicalize from 'canonicalize';
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
  const added = await page.request.post(`${desk.origin}/api/websites`, {
    headers: { origin: desk.origin },
    data: { address: `http://${site.host}/` },
  });
  expect(added.status()).toBe(200);
});
afterAll(async () => {
  site.stop();
  await desk?.stop();
});

const soundings = () => page.getByRole('complementary', { name: 'Soundings' });
const row = (name: string) =>
  page.getByRole('row', { name: new RegExp(`^${name.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&')}, `) });
const slot = (label: string) => page.getByRole('button', { name: new RegExp(`^${label}: `) });

async function sweep(): Promise<void> {
  await page.goto(`${desk.origin}${at}`);
  await page.getByRole('button', { name: /^Sweep (this site|again)$/ }).click();
  await page
    .getByRole('progressbar', { name: /Sweep of/ })
    .first()
    .waitFor();
  await page.getByText('is done.').waitFor({ timeout: 240_000 });
}

describe('how a site is swept', () => {
  it('is said in sentences, by keyboard, and what will not do is told beside its slot', async () => {
    await page.goto(`${desk.origin}${at}?tab=sweeps`);
    await slot('No pages like').focus();
    await page.keyboard.press('Enter');
    await page.keyboard.type('boats');
    await page.keyboard.press('Control+Enter');
    await page.getByText('◆ Begin with / (or *), as in /offers/*').waitFor();
    await slot('No pages like').press('Enter');
    await page.keyboard.press('Control+A');
    await page.keyboard.type('/boats/*');
    await page.keyboard.press('Control+Enter');
    await slot('No pages like').getByText('/boats/*').waitFor();
    await slot('Swept by itself').press('Enter');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await slot('Day of the week').getByText('Monday').waitFor();
    await page.getByText(/next .*\d{2}:\d{2}/).waitFor();
    await slot('Time').press('Enter');
    await page.keyboard.press('Control+A');
    await page.keyboard.type('25:99');
    await page.keyboard.press('Enter');
    await page.getByText('◆ A time such as 03:30').waitFor();
    await slot('Path to refuse').press('Enter');
    await page.keyboard.type('press the button');
    await page.keyboard.press('Control+Enter');
    await page.getByText(/◆ Line 1: .*Write click/).waitFor();
    await expectAccessible(page, 'how a site is swept');
    await slot('Region').press('Enter');
    await page.keyboard.type('Denm');
    await page.keyboard.press('Enter');
    await slot('Region').getByText('Denmark').waitFor();
  });
});

describe('a leak, from why to fixed', () => {
  it('is tried on a few pages: marking its tag helps, holding what stands in the HTML does not', async () => {
    await sweep();
    await row('/count.js').getByRole('button').click();
    await page.getByRole('option', { name: 'Measurement' }).click();
    await page.getByText('Purpose decided.').waitFor();
    await row('/count.js').press('Enter');
    await soundings().getByText('Denmark: Directive 2002/58/EC, art. 5(3)').waitFor();
    await soundings().getByText('Under other laws').click();
    await soundings().getByText('California, on unless refused: no leak').waitFor();
    await soundings().getByRole('button', { name: 'Mark its tag in the page' }).press('Enter');
    await soundings().getByRole('button', { name: 'Try it on a few pages' }).press('Enter');
    await soundings().getByText('✓ Mark its tag in the page: it helps').waitFor({ timeout: 240_000 });
    await soundings()
      .getByText(/Kept back with it: .*hit\.gif|Kept back with it: .*tally/)
      .waitFor();
    await soundings().getByText('The notice’s line was put into the pages for the trial').waitFor();
    await soundings().getByRole('button', { name: 'Hold it at the gate' }).click();
    await soundings().getByRole('button', { name: 'Try it on a few pages' }).click();
    await soundings().getByText('◆ Hold it at the gate: it does not help').waitFor({ timeout: 240_000 });
    await expectAccessible(page, 'fix of a leak');
  });

  it('is held at the gate where a script asks, tried first, put in force, and taken back', async () => {
    await row('/hit.gif').press('Enter');
    const known = row('/hit.gif').getByText('Measurement');
    if ((await known.count()) === 0) {
      await row('/hit.gif').getByRole('button').click();
      await page.getByRole('option', { name: 'Measurement' }).click();
    }
    await soundings().getByRole('button', { name: 'Hold it at the gate' }).click();
    await soundings().getByRole('button', { name: 'Put it in force' }).click();
    await soundings()
      .getByText(/In force\. The gate holds/)
      .waitFor();
    const [{ site_key: key } = { site_key: '' }] = (await siteKeys()) as { site_key: string }[];
    const script = () => fetch(`${desk.visitorOrigin}/${key}.js`).then((r) => r.text());
    await expect
      .poll(script, { timeout: 10_000 })
      .toContain('"kind":"request","name":"/count.js","host":"tally.localhost"');
    await soundings().getByRole('button', { name: 'Take it back' }).click();
    await expect.poll(script, { timeout: 10_000 }).toContain('YARE_HOLDS=[]');
  });
});

describe('a sweep', () => {
  it('opens to its pictures, its pages and its evidence, which can be checked', async () => {
    await page.goto(`${desk.origin}${at}?tab=sweeps`);
    await page.getByRole('table', { name: 'Sweeps' }).getByRole('button').first().press('Enter');
    await soundings().getByRole('img', { name: 'The start page before any choice' }).waitFor();
    await expectAccessible(page, 'a sweep');
    const href = await soundings()
      .getByRole('link', { name: 'Findings with proof, JSON' })
      .getAttribute('href');
    await expect
      .poll(
        async () =>
          ((await (await page.request.get(desk.origin + href)).json()) as Exported).proof.ledger?.entry
            .action,
        {
          timeout: 20_000,
        },
      )
      .toBe('sweep.end');
    const { report, proof } = (await (await page.request.get(desk.origin + href)).json()) as Exported;
    expect(report.trackers.map((t) => t.name)).toContain('/count.js');
    const digest = createHash('sha256')
      .update(canonicalize(report) ?? '')
      .digest('hex');
    expect([proof.digest, proof.ledger?.entry.detail.report]).toEqual([digest, digest]);
    const pdf = await page.request.get(desk.origin + (href ?? '').replace('.json', '.pdf'));
    expect((await pdf.body()).subarray(0, 5).toString()).toBe('%PDF-');
    const other = await desk.signedIn('auditor');
    expect((await other.request.get(desk.origin + href)).status()).toBe(200);
    const elsewhere = (href ?? '').replace(encodeURIComponent(site.host), 'nowhere.example');
    expect((await other.request.get(desk.origin + elsewhere)).status()).toBe(404);
    await other.context().close();
  });

  it('tells what changed since the last, on Today too until somebody has seen it', async () => {
    site.held = true;
    await sweep();
    site.held = false;
    await sweep();
    await page.goto(`${desk.origin}/today`);
    await page.getByRole('link', { name: new RegExp(`The sweep of ${site.host}: .*new tracker`) }).click();
    await soundings()
      .getByText(/Leaks now: .*\/count\.js/)
      .waitFor();
    await slot('Compared with').press('Enter');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await soundings()
      .getByText(/Nothing changed|Other purpose|Put there by another/)
      .waitFor();
    await soundings().getByRole('button', { name: 'I have seen it' }).press('Enter');
    await soundings()
      .getByText(/✓ .*seen\./)
      .waitFor();
    await page.goto(`${desk.origin}/today`);
    await page.getByRole('heading', { name: 'Today' }).waitFor();
    await expect.poll(() => page.getByText(`The sweep of ${site.host}:`).count()).toBe(0);
  });
});

describe('the library', () => {
  it('is written, taken in, taken out of, and proposes at the next sweep', async () => {
    await page.goto(`${desk.origin}/websites`);
    await page.getByRole('link', { name: /^Known trackers/ }).press('Enter');
    await page.getByText('The library is empty').waitFor();
    await page.getByRole('button', { name: 'New entry' }).press('Enter');
    await page.getByLabel('Name', { exact: true }).fill('tally_(visitor');
    await page.getByLabel('It fits').selectOption('expression');
    await page.getByRole('button', { name: 'Add it' }).press('Enter');
    await soundings()
      .getByText(/This is no expression that can be used/)
      .waitFor();
    await page.getByLabel('Name', { exact: true }).fill('tally_(visitor|buffer)');
    await page.getByLabel('Purpose', { exact: true }).selectOption('preferences');
    await page.getByRole('button', { name: 'Add it' }).press('Enter');
    await row('tally_(visitor|buffer)').waitFor();
    await expectAccessible(page, 'library');
    const file = page.getByLabel('File of known trackers');
    const csv = (text: string) => ({ name: 'known.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
    await file.setInputFiles(csv('name,purpose,kind\n/hit.gif,measurement,biscuit\n'));
    await page
      .getByRole('alert')
      .getByText(/line 2, kind/)
      .waitFor();
    await file.setInputFiles(csv('name,purpose,text_da\n/adsync.gif,advertising,Annoncer\n'));
    await page.getByText('1 entry taken in, 0 replaced.').waitFor();
    await row('/adsync.gif').press('Enter');
    await page.getByRole('button', { name: 'Take it out' }).click();
    await expect.poll(() => row('/adsync.gif').count()).toBe(0);
    await page.getByRole('button', { name: 'Undo' }).last().click();
    await row('/adsync.gif').waitFor();
    const exported = await page.request.get(`${desk.origin}/api/websites/library/export.csv`);
    expect(await exported.text()).toContain('/adsync.gif,exact,,,,advertising,,Annoncer');
    await sweep();
    await expect.poll(() => row('tally_visitor').getByText('Preferences').count()).toBe(1);
    await row('tally_visitor').press('Enter');
    await soundings()
      .getByText(/Why Preferences is proposed/)
      .click();
    await soundings().getByText('The library knows it', { exact: false }).waitFor();
  });
});

interface Exported {
  readonly report: { readonly trackers: readonly { readonly name: string }[] };
  readonly proof: {
    readonly digest: string;
    readonly ledger: {
      readonly entry: { readonly action: string; readonly detail: { readonly report: string } };
    } | null;
  };
}

async function siteKeys(): Promise<unknown[]> {
  const { z } = await import('zod');
  return desk.store.all(z.object({ site_key: z.string() }), 'SELECT site_key FROM site');
}
