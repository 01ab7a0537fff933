import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ACCOUNT_FIGURES } from '../../src/server/accounts/figures.ts';
import type { Context } from '../../src/server/context.ts';
import { keepFigure } from '../../src/server/figures/kept-figures.ts';
import { WEBSITE_FIGURES } from '../../src/server/websites/figures.ts';
import { insertSite } from '../../src/server/websites/sites/sites.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;

beforeAll(async () => {
  desk = await startDesk();
  page = await desk.signedIn();
  await desk.store.transaction((tx) =>
    insertSite(tx, new Date(), {
      ...{ host: 'ferry.example', startUrl: 'https://ferry.example/', name: 'Ferry', by: null },
    }),
  );
  const day = new Date();
  const last = new Date(Date.UTC(day.getUTCFullYear(), day.getUTCMonth(), 0)).toISOString().slice(0, 10);
  await desk.store.run(
    "INSERT INTO figure_value (figure, day, value, out_of, counted_at) VALUES ('websites.sweeps-old', ?, 0, 1, ?), ('accounts.officers', ?, 3, 3, ?)",
    [last, `${last} 10:00:00`, last, `${last} 10:00:00`],
  );
  const ctx = { store: desk.store, now: () => new Date() } as Context;
  for (const figure of [...WEBSITE_FIGURES, ...ACCOUNT_FIGURES]) await keepFigure(ctx, figure);
});
afterAll(() => desk?.stop());

const names = () => page.getByRole('list', { name: 'Figures' }).getByRole('heading').allInnerTexts();
const told = (words: string) => page.getByText(words, { exact: true }).first().waitFor();

describe('a board', () => {
  it('is made, filled, arranged by keyboard and taken back, each with its figure opened to its rows', async () => {
    await page.goto(`${desk.origin}/evidence/boards?new=board`);
    await page.getByLabel('What it is called').fill('My <b>quarter</b>');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'My <b>quarter</b>' }).waitFor();
    await page.getByRole('button', { name: 'Arrange it' }).click();
    for (const name of ['Sites not swept lately', 'Accounts that may do everything', 'Leaks']) {
      await page.getByRole('button', { name: /^Put on it/ }).click();
      await page.keyboard.type(name);
      await page
        .getByRole('option', { name: new RegExp(`^${name}`) })
        .first()
        .click();
      await page.getByRole('button', { name: `Move ${name}` }).waitFor();
    }
    expect(await names()).toEqual(['Sites not swept lately', 'Accounts that may do everything', 'Leaks']);
    const grip = page.getByRole('button', { name: 'Move Sites not swept lately' });
    await grip.focus();
    await page.keyboard.press('Space');
    await page
      .getByText(/^Sites not swept lately is (taken up|at place 1 of 3)\.$/)
      .waitFor({ state: 'attached' });
    await page.keyboard.press('ArrowRight');
    await page.getByText('Sites not swept lately is at place 2 of 3.').waitFor({ state: 'attached' });
    await page.keyboard.press('Space');
    await expect.poll(names).toEqual(['Accounts that may do everything', 'Sites not swept lately', 'Leaks']);
    await told('Moved.');
    await page.getByRole('button', { name: 'Undo' }).last().click();
    await expect.poll(names).toEqual(['Sites not swept lately', 'Accounts that may do everything', 'Leaks']);
    await page.getByRole('button', { name: 'Compared with last: quarter' }).click();
    await page.getByRole('option', { name: 'month' }).click();
    await page.getByText('◆ +1 on last month').waitFor();
    await expectAccessible(page, 'a board that is arranged');
    await page.getByRole('button', { name: 'Show it as: Sites not swept lately' }).click();
    await page.getByRole('menuitem', { name: 'A table' }).click();
    await page.getByRole('button', { name: 'Done' }).click();
    await page.getByRole('button', { name: 'Explain Sites not swept lately' }).click();
    await page.getByText('Everything was counted on both days: the change is what it is.').waitFor();
    await expectAccessible(page, 'a board');
    await page.getByRole('link', { name: 'Sites not swept lately' }).click();
    await page.getByText('1 row on').waitFor();
    await page
      .getByRole('table', { name: 'Rows of Sites not swept lately' })
      .getByText('ferry.example')
      .first()
      .waitFor();
    await expectAccessible(page, 'a figure');
  }, 120_000);

  it('says what is wanted of a figure, and who looks after it', async () => {
    await page.goto(`${desk.origin}/evidence/figures/websites.sweeps-old`);
    await page.getByRole('button', { name: 'Say what is wanted' }).click();
    await page.getByLabel('At most').fill('0');
    await page.getByLabel('Who looks after it').selectOption({ index: 1 });
    await page.getByRole('button', { name: 'Keep it' }).click();
    await page.getByText('◆ it is not.').waitFor();
    await page.getByText(/The \w+.* looks after it\./).waitFor();
    await page.goto(`${desk.origin}/evidence/figures`);
    await page.getByRole('searchbox', { name: 'Filter figures' }).fill('swept lately');
    expect(await page.getByRole('row').count()).toBe(2);
    await expectAccessible(page, 'the figures');
  }, 60_000);

  it('is seen by its address without an account until it is ended, and printed on one page', async () => {
    await page.goto(`${desk.origin}/evidence/boards/1`);
    await page.getByRole('button', { name: 'Give it an address' }).click();
    await page.getByLabel('For how many days').fill('500');
    await page.getByRole('button', { name: 'Make the address' }).click();
    await page.getByText('A year at most').waitFor();
    await page.getByLabel('For how many days').fill('30');
    await page.getByLabel('Whom it is for').fill('The supervisory board');
    await page.getByRole('button', { name: 'Make the address' }).click();
    const address = await page.getByLabel('The address').innerText();
    await page.getByRole('button', { name: 'Done' }).click();
    await page.getByText(/^The supervisory board, until/).waitFor();
    const other = await desk.browser.newContext();
    const open = await other.newPage();
    const path = new URL(address).pathname;
    await open.goto(`${desk.origin}${path}`);
    await open.getByRole('heading', { name: 'Officer’s board' }).waitFor();
    await expectAccessible(open, 'a board by its address');
    expect(await open.getByRole('link').count()).toBe(0);
    await page.getByRole('button', { name: 'End the address The supervisory board' }).click();
    await told('Nobody sees the board by it any more.');
    expect((await open.goto(`${desk.origin}${path}`))?.status()).toBe(404);
    await other.close();
    const pdf = await page.request.get(`${desk.origin}/api/evidence/boards/1/pdf`);
    expect((await pdf.body()).subarray(0, 5).toString()).toBe('%PDF-');
  }, 90_000);

  it('stands beside Today, the one that was chosen', async () => {
    await page.goto(`${desk.origin}/today`);
    const soundings = page.getByRole('complementary', { name: 'Soundings' });
    await soundings.getByText('Sites without a leak').waitFor();
    await soundings.getByRole('button', { name: /^Board beside Today/ }).click();
    await page.getByRole('option', { name: 'Websites' }).click();
    await soundings.getByText('Trackers without a purpose').waitFor();
    await expectAccessible(page, 'Today with a board');
  }, 60_000);
});

describe('a report', () => {
  it('is begun in one act, made, fetched, proved by its digest, and made by itself from then on', async () => {
    await page.goto(`${desk.origin}/evidence/boards/1`);
    await page.getByRole('link', { name: 'Send it every Monday' }).click();
    await page.getByLabel('What it is called').fill('Every <i>Monday</i>');
    await expectAccessible(page, 'a new report');
    await page.getByRole('button', { name: 'Begin it' }).click();
    await page.getByRole('heading', { name: 'Every <i>Monday</i>' }).waitFor();
    await page.getByText('1 person is told').waitFor();
    await page.getByRole('button', { name: 'Make it now' }).click();
    const files = page.getByRole('table', { name: 'Files' });
    await files.getByText(/8 rows, PDF/).waitFor({ timeout: 30_000 });
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      files.getByRole('link', { name: /^today/ }).click(),
    ]);
    const bytes = await readFile(await download.path());
    const digest = createHash('sha256').update(bytes).digest('hex');
    expect(await files.locator('code').getAttribute('title')).toBe(digest);
    await expectAccessible(page, 'a report');
    await files.getByRole('link', { name: /^entry/ }).click();
    await page.getByText(digest.slice(0, 20)).first().waitFor();
  }, 90_000);

  it('is changed in its sentence, told to others, and stands with its next time', async () => {
    await page.goto(`${desk.origin}/evidence/reports`);
    await page.getByRole('table', { name: 'Made by themselves' }).getByRole('link').first().click();
    const format = page.getByRole('button', { name: /^Format/ });
    await format.focus();
    await page.keyboard.press('Enter');
    await page.getByRole('option', { name: 'XLSX' }).click();
    await told('As XLSX.');
    await page.getByRole('button', { name: '1 person is told' }).click();
    await page.getByLabel('Addresses of others').fill('not one');
    await page.getByRole('button', { name: 'Keep it' }).click();
    await page.getByText('not is no address').waitFor();
    await page.getByLabel('Addresses of others').fill('board@ferry.example');
    await page.getByRole('button', { name: 'Keep it' }).click();
    await page.getByRole('button', { name: '2 people are told' }).waitFor();
    await page.getByRole('button', { name: 'Make it now' }).click();
    await page.getByText(/8 rows, XLSX/).waitFor({ timeout: 30_000 });
    await page.goto(`${desk.origin}/evidence/reports`);
    await page.getByText('every Monday at 07:00').waitFor();
    await expectAccessible(page, 'the reports');
    expect((await page.request.get(`${desk.origin}/report-file/1.99999.${'x'.repeat(43)}`)).status()).toBe(
      404,
    );
  }, 90_000);
});
