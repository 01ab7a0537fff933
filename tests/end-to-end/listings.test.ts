import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { join } from 'node:path';
import ExcelJS from 'exceljs';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { freePorts } from '../../launcher/free-port.ts';
import { ARCHIVE_KEY, archiveStore } from '../../standins/archive-store.ts';
import { CLOUD_HOST, CLOUD_KEY, cloudUrl, startCloudListing } from '../../standins/cloud-listing.ts';
import { standinCertificate } from '../../standins/certificate.ts';
import { xlsx } from '../integration/holdings/sample-files.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;
let cloud: Server;
let store: Server;
let [cloudPort, storePort] = [0, 0];

beforeAll(async () => {
  [cloudPort = 0, storePort = 0] = await freePorts(2);
  desk = await startDesk(cloudPort, storePort);
  page = await desk.signedIn();
  const bucket = join(desk.folder, 'estate', 'buckets', 'portal-uploads');
  mkdirSync(bucket, { recursive: true });
  writeFileSync(join(bucket, 'form.txt'), 'Kim Larsen, kim@ferry.example, is unfit for duty.');
  cloud = await startCloudListing({ dataDir: desk.folder, port: cloudPort, storePort });
  const answer = archiveStore(desk.folder);
  store = createServer((request, response) => {
    void answer(request, response, new URL(request.url ?? '/', `http://${request.headers.host}`));
  });
  await new Promise<void>((done) => store.listen(storePort, '127.0.0.1', done));
});
afterAll(async () => {
  cloud?.close();
  cloud?.closeAllConnections();
  store?.close();
  store?.closeAllConnections();
  await desk?.stop();
});

const button = (name: string | RegExp) => page.getByRole('button', { name });
const dialog = () => page.getByRole('dialog');

describe('finding sources', () => {
  it('asks an account with its key and certificate, and says which of them is wrong', async () => {
    await page.goto(`${desk.origin}/holdings/sources`);
    await button('Find sources').press('Enter');
    await dialog().getByLabel('What it is called').fill('Cloud account');
    await dialog().getByLabel('Address of the listing').fill(cloudUrl(cloudPort));
    await dialog().getByLabel('Key', { exact: true }).fill('a wrong key');
    await button('Ask it and keep it').press('Enter');
    await page.getByText(`No authority vouches for ${CLOUD_HOST}`).waitFor();
    const { cert } = await standinCertificate(desk.folder, [CLOUD_HOST]);
    await dialog().getByLabel('Certificate').fill(cert);
    await button('Ask it and keep it').press('Enter');
    await page.getByText('The account does not take this key.').waitFor();
    await expectAccessible(page, 'a new listing');
    await dialog().getByLabel('Key', { exact: true }).fill(CLOUD_KEY);
    await button('Ask it and keep it').press('Enter');
    await page
      .getByText(/408 stores/)
      .first()
      .waitFor();
    await page.getByText('408 new').waitFor();
    await expectAccessible(page, 'a listing');
  });

  it('says whose stores are, takes one in with its key, and it is surveyed like any other', async () => {
    await page.goto(`${desk.origin}/holdings/sources?new=system`);
    await page.getByLabel('What it is called').fill('Crew office');
    await button('Take it in').press('Enter');
    await page.getByRole('heading', { name: 'Crew office' }).waitFor();
    await page.getByRole('link', { name: /Cloud account/ }).press('Enter');
    await button('Add one').press('Enter');
    await button('What it has to be like: name-*').press('Enter');
    await dialog().getByRole('textbox').fill('portal-*');
    await dialog().getByRole('textbox').press('Enter');
    await page.getByRole('searchbox', { name: /Filter stores/ }).fill('uploads');
    const row = page.getByRole('row', { name: /portal-uploads/ });
    await row.getByText('Crew office').waitFor();
    await row.getByRole('checkbox').press('Space');
    await button('Take in').press('Enter');
    await dialog().getByText('1 store of Crew office').waitFor();
    await dialog().getByLabel('User or access key').fill(ARCHIVE_KEY.user);
    await dialog().getByLabel('Password or secret key').fill(ARCHIVE_KEY.secret);
    await button('Take it in').press('Enter');
    await row.getByRole('link', { name: 'In the register' }).press('Enter');
    await page.getByRole('heading', { name: 'portal-uploads' }).waitFor();
    await button('Survey it').press('Enter');
    await page.getByLabel('What it is called').fill('Uploads');
    await button('Estimate what it takes').press('Enter');
    await button('Start reading').press('Enter');
    await page.getByText(/^done/).first().waitFor();
    await page.goto(`${desk.origin}/holdings`);
    await page.getByRole('row', { name: 'form.txt' }).waitFor();
  });

  it('sets stores aside with a reason', async () => {
    await page.goto(`${desk.origin}/holdings/sources`);
    await page.getByRole('link', { name: /Cloud account/ }).press('Enter');
    await page.getByRole('searchbox', { name: /Filter stores/ }).fill('tmp-prod');
    await page
      .getByRole('row', { name: /tmp-prod/ })
      .first()
      .waitFor();
    await page.getByRole('columnheader').getByRole('checkbox').press('Space');
    await button('Set aside').press('Enter');
    await dialog().getByLabel('Why').fill('Holds made-up data alone');
    await dialog().getByRole('button', { name: 'Set aside' }).press('Enter');
    await page.getByRole('cell', { name: 'Set aside' }).first().waitFor();
  });

  it('takes a table whole or not at all, with every fault marked in a copy', async () => {
    await page.goto(`${desk.origin}/holdings/sources?new=listing`);
    await button('A workbook or CSV').press('Enter');
    await dialog().getByLabel('What it is called').fill('List of the IT department');
    await button('Go on').press('Enter');
    await button('Send the table').press('Enter');
    const send = async (rows: readonly (readonly string[])[]) =>
      dialog()
        .getByLabel('Workbook or CSV')
        .setInputFiles({
          name: 'stores.xlsx',
          mimeType: 'application/octet-stream',
          buffer: await xlsx(rows),
        });
    await send([
      ['Called', 'Type', 'Path'],
      ['Port', 'share', '/srv/port'],
      ['Tape', 'tape', '/srv/tape'],
    ]);
    await dialog().getByText('2 rows').waitFor();
    await button('Take it').press('Enter');
    await dialog().getByText('Say which column is “Name”.').waitFor();
    await dialog().getByLabel('Column of Name').selectOption('Called');
    await button('Take it').press('Enter');
    await dialog().getByText('row 3, Type').waitFor();
    await expectAccessible(page, 'a table with a fault');
    const [copy] = await Promise.all([
      page.waitForEvent('download'),
      button('Save a copy with every fault marked').press('Enter'),
    ]);
    const book = new ExcelJS.Workbook();
    await book.xlsx.load(readFileSync(await copy.path()).buffer as ArrayBuffer);
    expect(book.worksheets[0]?.getCell('D3').text).toContain('no kind of source');
    await send([
      ['Called', 'Type', 'Path'],
      ['Port', 'share', '/srv/port'],
    ]);
    await dialog().getByText('1 row.').waitFor();
    await dialog().getByLabel('Column of Name').selectOption('Called');
    await button('Take it').press('Enter');
    await page.getByText('1 store read: 1 new, 0 changed, 0 gone.').waitFor();
  });

  it('forgets a source that no survey reads, after saying what goes', async () => {
    await page.goto(`${desk.origin}/holdings/listings/2`);
    await page.getByRole('row', { name: /Port/ }).getByRole('checkbox').press('Space');
    await button('Take in').press('Enter');
    await dialog().getByRole('button', { name: 'Take it in' }).press('Enter');
    await page.getByRole('link', { name: 'In the register' }).press('Enter');
    await page.getByRole('heading', { name: 'Port', exact: true }).waitFor();
    await page.getByText(/Folders are read below/).waitFor();
    await button('More').press('Enter');
    await page.getByRole('menuitem', { name: 'Forget this source' }).press('Enter');
    await dialog().getByText('The data itself stays where it lies').waitFor();
    await button('Forget it').press('Enter');
    await page.getByRole('heading', { name: 'Sources' }).first().waitFor();
    await page.getByRole('row', { name: /^Port / }).waitFor({ state: 'detached' });
  });
});

describe('records of processing', () => {
  it('come from a table, are told before they are taken, and keep what they were', async () => {
    await page.goto(`${desk.origin}/holdings/records`);
    await button('Take from a table').press('Enter');
    await dialog()
      .getByLabel('Workbook or CSV')
      .setInputFiles({
        name: 'records.csv',
        mimeType: 'text/csv',
        buffer: Buffer.from(
          'Activity;Purpose;Whose data;Systems;Recipients\nHiring;find crew;applicants;Crew office;Harbourline | US\n',
        ),
      });
    await button('See what it would do').press('Enter');
    await dialog().getByText('1 record would be added: Hiring').waitFor();
    await button('Take it').press('Enter');
    await page.getByRole('link', { name: /Hiring/ }).press('Enter');
    await button('Purpose: find crew').press('Enter');
    await dialog().getByRole('textbox').fill('find crew and keep them');
    await page.keyboard.press('Control+Enter');
    await page.getByText('Version 1, and what it was before').press('Enter');
    await page.getByText('The purpose: find crew → find crew and keep them').waitFor();
    await expectAccessible(page, 'versions of a record');
    await button('Put back what was before').press('Enter');
    await button('Purpose: find crew').waitFor();
  });

  it('show who gives what to whom, as a map and as a table', async () => {
    await page.goto(`${desk.origin}/holdings/records?show=flows`);
    await page.getByRole('button', { name: 'Harbourline', exact: true }).press('Enter');
    await page.getByText('What flows from and to Harbourline').waitFor();
    await expectAccessible(page, 'the map of flows');
    await button('Read as a table').press('Enter');
    await page.getByRole('row', { name: /Crew office Harbourline.*no safeguard/ }).waitFor();
  });
});
