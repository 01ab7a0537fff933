import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Mailing } from '../../standins/mailing.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';

const folder = mkdtempSync(join(tmpdir(), 'yare-mailing-'));
let desk: RunningDesk;
let page: Page;
let server: Server;
let tool = '';
let link = '';
let secret = '';

beforeAll(async () => {
  const mailing = new Mailing(folder, () => secret);
  server = createServer((request, response) => {
    void mailing.answer(request, response, new URL(request.url ?? '/', tool));
  });
  await new Promise<void>((up) => server.listen(0, '127.0.0.1', up));
  const { port } = server.address() as AddressInfo;
  tool = `http://mailing.localhost:${port}`;
  desk = await startDesk(port);
  page = await desk.signedIn();
  page.setDefaultTimeout(30_000);
});
afterAll(async () => {
  server.close();
  server.closeAllConnections();
  await desk?.stop();
  rmSync(folder, { recursive: true });
});

const press = (name: string | RegExp, on: Page = page) => on.getByRole('button', { name }).press('Enter');
/** What the tool has of somebody, by its own page. */
const told = async () => {
  const html = await (
    await page.request.get(tool.replace('mailing.', ''), { headers: { host: new URL(tool).host } })
  ).text();
  return /<td>mona@mail\.example<\/td><td>[^<]*<\/td><td>([^<]*)<\/td>/.exec(html)?.[1];
};

describe('preferences', () => {
  it('are begun with a page, put in force, and asked of a person who is added', async () => {
    await page.goto(`${desk.origin}/websites/preferences`);
    await page.getByLabel('Who writes to them?').fill('Harbour Line');
    await press('Begin the page');
    await page.getByRole('button', { name: /^Topics/ }).waitFor();
    await expectAccessible(page, 'the page of preferences');
    await press('Put it in force');
    await page.getByText('Version 1 in force').waitFor();
    await page.getByRole('tab', { name: 'People' }).click();
    await page.getByText('Nobody is known here').waitFor();
    await press('Add a person');
    await page.getByRole('textbox', { name: 'Address' }).fill('mona@mail.example');
    await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Mona Holm');
    await press('Add them');
    const soundings = page.getByRole('complementary', { name: 'Soundings' });
    await soundings.getByText('✕ No: they never said that they may.').waitFor();
    await page.getByRole('row', { name: /mona@mail\.example/ }).waitFor();
    await expectAccessible(page, 'the people');
    link = (await soundings.getByLabel('The link of their page').textContent()) ?? '';
  });

  it('are told to a mailing tool that is connected, which shows that they arrived', async () => {
    await page.getByRole('tab', { name: 'Mailing tools' }).click();
    await press('Connect a mailing tool');
    await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Newsletters');
    await page.getByLabel('Where it takes signed messages').fill('http://elsewhere.example/changes');
    await press('Connect it');
    await page.getByText('It has to begin with https://.').waitFor();
    await page.getByLabel('Where it takes signed messages').fill(`${tool}/changes`);
    await press('Connect it');
    secret = (await page.getByLabel('The secret of the mailing tool').textContent()) ?? '';
    await expect.poll(told, { timeout: 20_000 }).toBe('nothing');
    await page.getByRole('row', { name: /Newsletters.*1 message/ }).waitFor({ timeout: 20_000 });
    await expectAccessible(page, 'the mailing tools');
  });

  it('are set by the person on their own page, by keyboard and without an account; looking alone changes nothing', async () => {
    const own = await (await desk.browser.newContext({ locale: 'da-DK' })).newPage();
    expect((await own.goto(`${link}x`))?.status()).toBe(404);
    await own.goto(link);
    await own.getByRole('heading', { name: 'Hvad må vi sende dig?' }).waitFor();
    await expectAccessible(own, 'their own page');
    await own.getByLabel('E-mail').press('Space');
    await own.getByLabel('Nyheder').press('Space');
    await press('Gem', own);
    await own.getByText(/^✓ Gemt\. Sådan er det fra nu af\. Kvittering: /).waitFor();
    expect(await own.getByLabel('E-mail').isChecked()).toBe(true);
    await expect.poll(told, { timeout: 20_000 }).toBe('email, news');
    await own.goto(`${link}?language=en`);
    await own.getByLabel('You write too often').press('Space');
    await press('Send me nothing any more', own);
    await own.getByText(/^✓ You get nothing more from us\./).waitFor();
    await own.context().close();
    await expect.poll(told, { timeout: 20_000 }).toBe('nothing');
  });

  it('are left by the one click of a mail program, and are on record with their place in the ledger', async () => {
    const leave = link.replace('/preferences/', '/interface/leave/');
    const post = (url: string) =>
      page.request.fetch(url, { method: 'POST', form: { 'List-Unsubscribe': 'One-Click' } });
    expect((await post(leave)).status()).toBe(200);
    expect((await post(`${leave}x`)).status()).toBe(404);
    await page.goto(`${desk.origin}/websites/preferences?person=1`);
    const soundings = page.getByRole('complementary', { name: 'Soundings' });
    await soundings.getByText(/✕ No: they want nothing, since/).waitFor();
    await soundings.getByText('because: Too often').waitFor();
    await soundings.getByText(/by one click in their mail/).waitFor();
    await soundings
      .getByText(/^Sealed/)
      .first()
      .waitFor({ timeout: 30_000 });
    await expectAccessible(page, 'a person');
    await page.getByRole('button', { name: 'Close the person' }).press('Enter');
    await soundings.getByText('Too often').waitFor();
  });
});
