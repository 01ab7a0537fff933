import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { xlsx } from '../integration/holdings/sample-files.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;

beforeAll(async () => {
  desk = await startDesk();
  page = await desk.signedIn();
  const root = join(desk.folder, 'estate', 'port');
  const files: Record<string, string | Buffer> = {
    'Manifests/2026/list.xlsx': await xlsx([
      ['Navn', 'CPR', 'E-mail'],
      ['Jens Hansen', '010180-1234', 'jens@ferry.example'],
      ['Anna Berg', '020281-1238', 'anna@ferry.example'],
    ]),
    'letters/letter.txt': 'Write to kim@ferry.example, or to lee@ferry.example.',
    'Backup/old.txt': 'gone@ferry.example',
    'damaged.docx': 'PK\x03\x04 no document',
  };
  for (const [path, content] of Object.entries(files)) {
    mkdirSync(dirname(join(root, path)), { recursive: true });
    writeFileSync(join(root, path), content);
  }
});
afterAll(() => desk?.stop());

const button = (name: string | RegExp) => page.getByRole('button', { name });
const soundings = () => page.getByRole('complementary', { name: 'Soundings' });

describe('what we hold', () => {
  it('is nothing before a source is taken in; an address that cannot be read says why, beside its field', async () => {
    await page.goto(`${desk.origin}/holdings`);
    await page.getByRole('heading', { name: 'Nothing was read yet' }).waitFor();
    await button('Take in a source').press('Enter');
    await page.getByLabel('What it is called').fill('Port share');
    await page.getByLabel('Folder', { exact: true }).fill('/etc');
    await button('Try it and take it in').press('Enter');
    await page.getByText('Folders are read below').waitFor();
    await page.getByLabel('Folder', { exact: true }).fill(join(desk.folder, 'estate', 'ports'));
    await button('Try it and take it in').press('Enter');
    await page.getByText('it is not there').waitFor();
    await expectAccessible(page, 'a new source');
    await page.getByLabel('Folder', { exact: true }).fill(join(desk.folder, 'estate', 'port'));
    await button('Try it and take it in').press('Enter');
    await page.getByRole('heading', { name: 'Port share' }).waitFor();
  });

  it('is estimated before it is read, paused by nobody, and told with what could not be read', async () => {
    await button('Survey it').press('Enter');
    await page.getByLabel('What it is called').fill('Port share, whole');
    await button('Estimate what it takes').press('Enter');
    const row = page.getByRole('row', { name: /Port share/ });
    await row.getByRole('cell', { name: '4', exact: true }).waitFor();
    await page.getByText('A guess: nothing was measured here yet.').waitFor();
    await button('Places left out: nothing').press('Enter');
    await page.getByRole('dialog', { name: 'Places left out' }).getByRole('textbox').fill('Backup');
    await page.keyboard.press('Control+Enter');
    await button('Places left out: Backup').waitFor();
    await button('Estimate it anew').press('Enter');
    await row.getByRole('cell', { name: '3', exact: true }).waitFor();
    await expectAccessible(page, 'an estimate');
    await button('Start reading').press('Enter');
    await page.getByRole('row', { name: 'damaged.docx' }).waitFor();
    await page.getByText(/^done/).first().waitFor();
  });

  it('opens from any number down to the match, which is judged, and stays judged', async () => {
    await page.goto(`${desk.origin}/holdings`);
    await page.getByRole('heading', { name: 'What we hold' }).waitFor();
    await soundings().getByText('could not be read').waitFor();
    await expectAccessible(page, 'the explorer');
    await page.getByRole('columnheader', { name: 'E-mail address' }).getByRole('button').press('Enter');
    await button('What they hold: E-mail address').waitFor();
    expect(new URL(page.url()).searchParams.get('lens')).toBe('data one of "email"');
    const letter = page.getByRole('row', { name: 'letter.txt' });
    await letter.focus();
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'letter.txt' }).waitFor();
    await soundings().getByText('what it holds is E-mail address').waitFor();
    const matches = page.getByRole('table', { name: 'Matches of E-mail address' });
    await matches.getByRole('button', { name: 'certain' }).first().press('Enter');
    await matches.getByText(/^together/).waitFor();
    await expectAccessible(page, 'an item');
    await matches.getByRole('button', { name: 'Wrong' }).first().press('Enter');
    await matches.getByText('judged wrong').waitFor();
    await matches.getByRole('button', { name: 'Wrong' }).first().press('Enter');
    await page.getByRole('link', { name: 'Back to the lens' }).press('Enter');
    await page.getByRole('row', { name: 'list.xlsx' }).waitFor();
    await letter.waitFor({ state: 'detached' });
    await soundings().getByText('0 of 2').waitFor();
  });

  it('is read again with its values masked, and one is shown in clear to who may', async () => {
    await page.getByRole('row', { name: 'list.xlsx' }).press('Enter');
    await button('Read it from its source').press('Enter');
    const text = page.getByRole('region', { name: 'Text, masked' });
    await text.getByText('Navn').waitFor();
    expect(await text.textContent()).not.toContain('jens@ferry');
    const matches = page.getByRole('table', { name: 'Matches of E-mail address' });
    await matches.getByRole('button', { name: 'Show' }).first().press('Enter');
    await matches.getByText('jens@ferry.example').waitFor();
    await page.goto(`${desk.origin}/evidence/ledger`);
    await page.getByText('item.reveal').first().waitFor();
  });

  it('is kept as a lens, found in the register, and let go', async () => {
    await page.goto(`${desk.origin}/holdings?lens=${encodeURIComponent('people at least 2')}`);
    await button('Keep this lens').press('Enter');
    await page.getByLabel('What it is called').fill('Several people');
    await button('Keep it').press('Enter');
    await page.getByRole('link', { name: /Several people/ }).waitFor();
    await page.getByRole('heading', { name: 'Several people' }).waitFor();
    await button('Add a condition: a condition').press('Enter');
    const line = page.getByRole('dialog', { name: 'Add a condition' }).getByRole('textbox');
    await line.fill('owner one of');
    await page.getByText(/a text in quotes/).waitFor();
    await line.fill('name holding "list"');
    await page.keyboard.press('Enter');
    await button('Condition: name holding “list”').waitFor();
    await page.getByRole('link', { name: /Several people/ }).press('Enter');
    await button('Let go').press('Enter');
    await page.getByText('“Several people” is let go.').waitFor();
  });

  it('is read by an auditor, who changes nothing and sees nothing in clear', async () => {
    const auditor = await desk.signedIn('auditor');
    await auditor.goto(`${desk.origin}/holdings`);
    await auditor.getByRole('row', { name: 'list.xlsx' }).press('Enter');
    await auditor.getByRole('table', { name: 'Matches of E-mail address' }).waitFor();
    expect(
      await auditor.getByRole('button', { name: /^(?:Show|Right|Wrong|Read it from its source)$/ }).count(),
    ).toBe(0);
    await auditor.context().close();
  });
});

describe('systems and sources', () => {
  it('a system says who answers for it; each change can be taken back', async () => {
    await page.goto(`${desk.origin}/holdings/sources?new=system`);
    await page.getByLabel('What it is called').fill('Port operations');
    await button('Take it in').press('Enter');
    await page.getByRole('heading', { name: 'Port operations' }).waitFor();
    await button('Steward: nobody yet').press('Enter');
    await page.getByRole('option', { name: /The officer/ }).click();
    await button('Steward: The officer').waitFor();
    await button('Undo').press('Enter');
    await button('Steward: nobody yet').waitFor();
    await expectAccessible(page, 'a system');
    await page
      .getByRole('link', { name: /Port share/ })
      .first()
      .press('Enter');
    await button('System: no system').press('Enter');
    await page.getByRole('option', { name: 'Port operations' }).click();
    await page.getByRole('link', { name: /Port operations.*1 source/ }).waitFor();
    await expectAccessible(page, 'a source');
  });
});

describe('records of processing', () => {
  it('are written as sentences, and told where the estate says otherwise', async () => {
    await page.goto(`${desk.origin}/holdings/records`);
    await page.getByText('Port operations holds personal data, and no activity uses it').waitFor();
    await page.getByText('Nobody looks after the data of Port operations').waitFor();
    await expectAccessible(page, 'all contradictions');
    await button('New').press('Enter');
    await page.getByText('New activity 1 says no system in which it happens').waitFor();
    await button('Systems: no system yet').press('Enter');
    await page.getByRole('option', { name: 'Port operations' }).click();
    await page.keyboard.press('Escape');
    await page.getByText('says no system in which it happens').waitFor({ state: 'detached' });
    await button('Recipients: nobody').press('Enter');
    await page.getByRole('dialog', { name: 'Recipients' }).getByRole('textbox').fill('Lookwell Ltd | US');
    await page.keyboard.press('Control+Enter');
    await page.getByText('gives data to Lookwell Ltd in US without a safeguard').waitFor();
    await expectAccessible(page, 'a record of processing');
    await button('Accept it').last().press('Enter');
    await page.getByLabel('Why it is as it should be').fill('A steward comes next month');
    await page.getByRole('dialog').getByRole('button', { name: 'Accept it' }).press('Enter');
    await page.getByText('accepted by The officer').waitFor();
  });
});
