import { mkdir, mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { configure, Uint8ArrayReader, Uint8ArrayWriter, ZipReader } from '@zip.js/zip.js';
import PostalMime from 'postal-mime';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { freePorts } from '../../launcher/free-port.ts';
import { Mailbox } from '../../standins/mailbox.ts';
import { USUAL_SOURCE } from '../../src/core/holdings/sources/source.ts';
import { USUAL_SURVEY } from '../../src/core/holdings/surveys/survey.ts';
import { insertSource } from '../../src/server/holdings/sources/sources.ts';
import { addSurvey } from '../../src/server/holdings/surveys/surveys.ts';
import { readSettings } from '../../src/server/settings.ts';
import { writeFiles } from '../integration/holdings/estate.ts';
import { expectAccessible, startDeskWith, type RunningDesk } from './desk.ts';

configure({ useWebWorkers: false });

let desk: RunningDesk;
let page: Page;
let mailbox: Mailbox;
let mailFolder: string;
let link = '';
beforeAll(async () => {
  mailFolder = await mkdtemp(join(tmpdir(), 'yare-mailbox-'));
  const [port = 0] = await freePorts(1);
  mailbox = new Mailbox(mailFolder);
  await mailbox.start(port);
  desk = await startDeskWith({ SMTP_URL: `smtp://127.0.0.1:${port}` });
  page = await desk.signedIn();
  await hold();
});
afterAll(async () => {
  await desk?.stop();
  mailbox?.close();
  await rm(mailFolder, { recursive: true, force: true });
});

/** What the organisation holds: a list, a letter, and what is nobody’s business. */
async function hold(): Promise<void> {
  const root = join(desk.folder, 'estate', 'port');
  await mkdir(root, { recursive: true });
  writeFiles(root, {
    'members.csv':
      'Name;E-mail;Date of birth;Phone\nMaja Holmqvist;maja@post.example;1984-03-09;+46 70 1740608\nAnna Lind;anna@post.example;1990-05-05;+46 70 9998877\n',
    'letter.txt':
      'To maja@post.example.\n\nYou and Per Alm are at one table. You reach him at 0701 740 605.\n',
  });
  const ctx = {
    store: desk.store,
    now: () => new Date(),
    settings: readSettings({
      DATABASE_URL: 'mysql://x@localhost/x',
      SECRET_KEY: 'cd'.repeat(32),
      DATA_DIR: desk.folder,
    }),
  };
  await desk.store.transaction(async (tx) => {
    const source = await insertSource(tx, ctx, null, {
      content: { ...USUAL_SOURCE, name: 'Port share' },
      address: { kind: 'folder', root },
      secret: '',
    });
    const survey = await addSurvey(tx, ctx.now(), null, {
      ...{ ...USUAL_SURVEY, name: 'Port', sources: [String(source)] },
      schedule: { every: 'week', weekday: 7, day: 1, at: '02:30', zone: 'Europe/Copenhagen' },
    });
    await tx.run('UPDATE survey SET next_run = NOW() WHERE id = ?', [survey]);
  });
  for (let tries = 0; tries < 600; tries++) {
    const read = await desk.store.one(
      z.object({ n: z.coerce.number() }),
      "SELECT COUNT(*) AS n FROM item WHERE state = 'read'",
    );
    if (read?.n === 2) return;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error('The share was not surveyed.');
}

/** The newest mail that holds a link of this kind. */
async function mailedLink(kind: 'request' | 'package'): Promise<string> {
  for (let tries = 0; tries < 300; tries++) {
    const names = (await readdir(join(mailFolder, 'mailbox'))).toSorted().toReversed();
    for (const name of names) {
      const mail = await PostalMime.parse(await readFile(join(mailFolder, 'mailbox', name)));
      const found = new RegExp(`https?://\\S+/${kind}/[\\w-]{43}`).exec(mail.text ?? '')?.[0];
      if (found) return found.replace(/^https?:\/\/[^/]+/, desk.origin);
    }
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error(`No mail with a link to a ${kind} came.`);
}

const button = (name: string | RegExp) => page.getByRole('button', { name });

describe('a person asks what is held of them', () => {
  it('by a form that needs no script and no account, with the keyboard alone', async () => {
    const reads = await desk.browser.newContext({ locale: 'sv-SE' });
    const looked = await reads.newPage();
    await looked.goto(`${desk.origin}/ask/port`);
    await looked.getByRole('heading', { name: 'Dina uppgifter, dina rättigheter' }).waitFor();
    await expectAccessible(looked, 'the form');
    await reads.close();
    const plain = await desk.browser.newContext({ locale: 'sv-SE', javaScriptEnabled: false });
    const form = await plain.newPage();
    await form.goto(`${desk.origin}/ask/port`);
    await form.getByLabel('Var du bor').selectOption('SE');
    await form.getByRole('button', { name: 'Visa' }).press('Enter');
    await form.getByRole('radio', { name: /Se vad ni har om mig/ }).press('Space');
    await form.getByLabel('Ditt namn').fill('Maja Holmqvist');
    await form.keyboard.press('Tab');
    await form.keyboard.type('maja@post.example');
    await form.waitForTimeout(2200);
    await form.keyboard.press('Enter');
    await form
      .getByRole('status')
      .getByText(/Tack\. Din begäran har nummer R-\d+/)
      .waitFor();
    await plain.close();
  });

  it('shows by a mailed link who they are, and is told nothing of what is held', async () => {
    const address = await mailedLink('request');
    const context = await desk.browser.newContext();
    const mine = await context.newPage();
    await mine.goto(address);
    await mine.getByRole('heading', { name: 'Är det du?' }).waitFor();
    await expectAccessible(mine, 'who it is');
    await mine.getByLabel('Ditt födelsedatum').fill('9.3.1984');
    await mine.getByLabel('Ditt telefonnummer').fill('070-174 06 08');
    await mine.keyboard.press('Enter');
    await mine.getByRole('status').getByText('Tack. Du hör av oss.').waitFor();
    await mine.goto(address);
    await mine
      .getByText('Länken har gått ut')
      .or(mine.getByText(/This link is over/))
      .first()
      .waitFor();
    await context.close();
  });

  it('is known by their answers, found, and their items looked over by keyboard', async () => {
    await page.goto(`${desk.origin}/cases/requests`);
    await page.getByText(/1 person waits for an answer/).waitFor();
    await expectAccessible(page, 'requests');
    await page.getByRole('link', { name: /R-1, access, Sweden/ }).press('Enter');
    await page.getByText(/known by a mailed link and questions/).waitFor({ timeout: 60_000 });
    await page
      .getByRole('table', { name: 'Where they are' })
      .getByText('Port share')
      .waitFor({ timeout: 60_000 });
    await button('Look over the 1').press('Enter');
    const look = page.getByRole('region', { name: 'letter.txt' });
    await look.getByText('You and').first().waitFor();
    await expectAccessible(page, 'an item');
    expect(await look.getByRole('img', { name: 'covered' }).count()).toBeGreaterThanOrEqual(2);
    await button('Right').press('Enter');
    await button('Make the package').waitFor();
    await button('Make the package').press('Enter');
    await page.getByText(/searched in every file of the package: none left/).waitFor({ timeout: 60_000 });
  });

  it('gets an answer that is read over before it goes, and the request is closed with it', async () => {
    await button('Answer it').press('Enter');
    const text = page.getByLabel('Text');
    await expect.poll(() => text.inputValue()).toMatch(/Här är det vi har om dig/);
    await expectAccessible(page, 'the letter');
    await button(/Send it to maja@post.example/).press('Enter');
    await page.getByText('It is sent.').waitFor();
    const phrase = (await page.getByLabel('Passphrase').innerText()).trim();
    await button('Close it').first().press('Enter');
    await page.getByRole('dialog').getByRole('button', { name: 'Close it' }).press('Enter');
    await page
      .getByText(/✓ answered/)
      .first()
      .waitFor();
    link = await mailedLink('package');
    const context = await desk.browser.newContext();
    const mine = await context.newPage();
    await mine.goto(link);
    await mine.getByRole('heading', { name: 'Det vi har om dig' }).waitFor();
    await expectAccessible(mine, 'the package');
    const [download] = await Promise.all([
      mine.waitForEvent('download'),
      mine.getByRole('button', { name: 'Hämta den' }).press('Enter'),
    ]);
    const bytes = new Uint8Array(await readFile(await download.path()));
    const zip = new ZipReader(new Uint8ArrayReader(bytes), { password: phrase });
    let all = '';
    for (const e of await zip.getEntries())
      if (!e.directory) all += Buffer.from(await e.getData(new Uint8ArrayWriter())).toString('utf8');
    expect(all).toContain('maja@post.example');
    for (const other of ['Per Alm', '0701 740 605', 'Anna Lind', 'anna@post.example'])
      expect(all).not.toContain(other);
    await context.close();
  });

  it('is found by its number, and stands in the ledger', async () => {
    await page.keyboard.press('Control+K');
    await page.keyboard.type('R-1');
    await page.getByRole('option', { name: /R-1, to see what is held/ }).waitFor();
    await page.keyboard.press('Escape');
    const entries = await desk.store.all(
      z.object({ action: z.string(), detail: z.string() }),
      "SELECT action, CAST(detail AS CHAR) AS detail FROM ledger_entry WHERE object = 'request'",
    );
    const done = new Set(entries.map((e) => e.action));
    expect([...done]).toEqual(
      expect.arrayContaining([
        'request.add',
        'request.know',
        'request.find',
        'request.package',
        'request.write',
        'request.close',
      ]),
    );
    expect(JSON.stringify(entries)).not.toMatch(/maja|Holmqvist/i);
  });
});

describe('one that is taken in by hand', () => {
  it('names what is wrong beside its field, and begins its clock', async () => {
    await page.goto(`${desk.origin}/cases/requests`);
    await page.getByRole('heading', { name: 'Requests', exact: true }).waitFor();
    await page.getByText(/nobody waits for an answer/).waitFor();
    await page.keyboard.press('n');
    await page.getByRole('dialog', { name: 'Take in a request' }).waitFor();
    await expectAccessible(page, 'taking in');
    await page.keyboard.press('Enter');
    await button('Take it in').press('Enter');
    await page.getByText('A name, an address or a number.').waitFor();
    await page.getByLabel('Name', { exact: true }).fill('<b>Ida</b> Holm');
    await page.getByLabel('They live in').selectOption('US-CA');
    await page.getByLabel('It asks').selectOption('no sale');
    await button('Take it in').press('Enter');
    await page.getByRole('heading', { name: /R-2, no sale/ }).waitFor();
    await page.getByText('<b>Ida</b> Holm').waitFor();
    await page.getByText(/confirm by/).waitFor();
    await expectAccessible(page, 'a request');
  });
});
