import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;

beforeAll(async () => {
  desk = await startDesk();
  page = await desk.signedIn();
});
afterAll(() => desk?.stop());

const soundings = () => page.getByRole('complementary', { name: 'Soundings' });

describe('the detectors', () => {
  it('are tried together on a pasted text, each match opened to its arithmetic, by keyboard', async () => {
    await page.goto(`${desk.origin}/holdings/detectors`);
    await page.getByRole('heading', { name: 'Detectors', exact: true }).waitFor();
    const text = soundings().getByRole('textbox', { name: 'Text to try' });
    await text.focus();
    await page.keyboard.press('Control+A');
    await page.keyboard.insertText(
      'Frau Käthe Schneider, Steuer-ID 36 574 261 809. Bestellnr. 36 574 261 809.',
    );
    await soundings().getByRole('heading', { name: '2 findings' }).waitFor();
    await expectAccessible(page, 'detectors');
    await soundings().getByRole('button', { name: '36 574 261 809' }).press('Enter');
    await soundings().getByText('“Steuer-ID” 1 character before').waitFor();
    await soundings().locator('details[open]').getByText('together 97%').waitFor();
  });

  it('are read as sentences, and one alone tells what nearly counted and what it lacked', async () => {
    await page.getByRole('searchbox', { name: 'Filter detectors' }).fill('German tax id');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'German tax identification number' }).waitFor();
    await page.getByText('it stands its check (DE.idnr)').waitFor();
    expect(new URL(page.url()).pathname).toBe('/holdings/detectors/de-steuer-id');
    await soundings()
      .getByRole('textbox', { name: 'Text to try' })
      .fill('Bestellnr. 36 574 261 809, Steuer-ID 36 574 261 808');
    await soundings().getByRole('heading', { name: '0 findings, 2 near misses' }).waitFor();
    await soundings().getByText('not counted: fails its check (DE.idnr)').waitFor();
    await expectAccessible(page, 'a detector');
  });

  it('read files, with the place of each match, and say what cannot be read', async () => {
    await page.goto(`${desk.origin}/holdings/detectors`);
    const file = page.getByLabel('File to try');
    await file.setInputFiles({
      name: 'people.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from('id,cpr\n1,010180-1234\n2,2110621234\n'),
    });
    await soundings().getByRole('heading', { name: '2 findings' }).waitFor();
    await soundings().locator('summary').first().click();
    await soundings().getByText('B2 ·').waitFor();
    await file.setInputFiles({
      name: 'list.pdf',
      mimeType: 'application/pdf',
      buffer: Buffer.from('not a PDF at all'),
    });
    await soundings().getByText('◆ Its name says PDF, but it is none').waitFor();
    await page.goto(`${desk.origin}/holdings/detectors/no-such-one`);
    await page.getByText('There is no detector “no-such-one”').first().waitFor();
  });
});
