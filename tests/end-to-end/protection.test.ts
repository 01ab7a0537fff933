import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readFileLevel } from '../../src/core/protection/stamp/stamp-file.ts';
import { sheetFile, wordFile } from '../integration/protection/levels.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;
let root: string;

beforeAll(async () => {
  desk = await startDesk();
  page = await desk.signedIn();
  root = join(desk.folder, 'estate', 'port');
  mkdirSync(root, { recursive: true });
  writeFileSync(
    join(root, 'cards.xlsx'),
    await sheetFile(['Navn', 'Kort'], ['Jens Hansen', '4111 1111 1111 1111']),
  );
  writeFileSync(join(root, 'letter.docx'), await wordFile('Skriv til jens@ferry.example.'));
  writeFileSync(join(root, 'note.txt'), 'kim@ferry.example');
});
afterAll(() => desk?.stop());

const button = (name: string | RegExp) => page.getByRole('button', { name });
const soundings = () => page.getByRole('complementary', { name: 'Soundings' });
const carried = async (name: string) => (await readFileLevel(readFileSync(join(root, name))))?.name;

/** Types into the editor of a slot, and takes it. */
async function fill(slot: string | RegExp, label: string, text: string) {
  await button(slot).press('Enter');
  await page.getByRole('dialog', { name: label }).getByRole('textbox').fill(text);
  await page.keyboard.press('Control+Enter');
}

describe('levels', () => {
  it('are made as a draft that shows on a page at once, tried on a file, and put in force', async () => {
    await page.goto(`${desk.origin}/protection`);
    await page.getByRole('heading', { name: 'No level yet' }).waitFor();
    await expectAccessible(page, 'no level');
    await page.keyboard.press('n');
    await page.getByLabel('What it is called').fill('Confidential');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Confidential' }).waitFor();
    await page.getByRole('img', { name: 'Document with at the foot “Confidential”' }).waitFor();
    await fill(/^Top: nothing/, 'Top', '{level} · {owner}');
    await page.getByRole('img', { name: /at the top “Confidential · Lotte Bruun”/ }).waitFor();
    await fill(/^Across: nothing/, 'Across', '{level}');
    await page.getByRole('img', { name: /across it “Confidential”/ }).waitFor();
    await button('Sheet').press('Enter');
    await page.getByRole('img', { name: /^Sheet with at the top/ }).waitFor();
    await page.getByText(/^Saved · edited/).waitFor();
    await expectAccessible(page, 'a level');

    await button('Try it on a file').press('Enter');
    const file = page.getByLabel(/^A document, sheet, slides or PDF/);
    await file.setInputFiles(join(root, 'note.txt'));
    await button('Stamp a copy').press('Enter');
    await page.getByText('It is no document that carries a marking.').waitFor();
    await file.setInputFiles(join(root, 'letter.docx'));
    const saved = page.waitForEvent('download');
    await button('Stamp a copy').press('Enter');
    const path = await (await saved).path();
    expect((await readFileLevel(readFileSync(path)))?.name).toBe('Confidential');
    expect(await carried('letter.docx')).toBeUndefined();
    await button('Leave it').press('Enter');

    await button('Put it in force').press('Enter');
    await page.getByText('Version 1 in force').waitFor();
    await page.goto(`${desk.origin}/protection/levels?new=level`);
    await page.getByLabel('What it is called').fill('confidential');
    await page.keyboard.press('Enter');
    await page.getByText('Give it another name.').waitFor();
    await page.getByLabel('What it is called').fill('Internal');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Internal' }).waitFor();
    await button('Put it in force').press('Enter');
    await page.getByText('Version 1 in force').waitFor();
    await button('Make it weaker').press('Enter');
    await page.getByText('Below Confidential').waitFor();
    await page.keyboard.press('n');
    await page.getByLabel('What it is called').fill('By mistake');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'By mistake' }).waitFor();
    await button('Remove the draft').press('Enter');
    await button('Remove it').press('Enter');
    await page.getByText('By mistake is removed.').waitFor();
    await page.getByRole('heading', { name: 'Confidential' }).waitFor();
  });

  it('are set by a rule that tells beforehand what it would do, and why of one item', async () => {
    await page.goto(`${desk.origin}/holdings/sources?new=source`);
    await page.getByLabel('What it is called').fill('Port share');
    await page.getByLabel('Folder', { exact: true }).fill(root);
    await button('Try it and take it in').press('Enter');
    await button('Survey it').press('Enter');
    await page.getByLabel('What it is called').fill('Port share, whole');
    await button('Estimate what it takes').press('Enter');
    await button('Start reading').press('Enter');
    await page.getByText(/^done/).first().waitFor();

    await page.goto(`${desk.origin}/holdings`);
    await button('Make of it').press('Enter');
    await page.getByRole('menuitem', { name: 'Set a level where it holds' }).press('Enter');
    await page.getByLabel('What it is called').fill('Everything on shares');
    await page.getByRole('button', { name: /^Sets/ }).press('Enter');
    await page.getByRole('option', { name: 'Internal' }).click();
    await button('Begin its draft').press('Enter');
    await page.getByRole('heading', { name: 'Everything on shares' }).waitFor();
    await soundings().getByText('would be set').waitFor();
    await soundings()
      .getByText(/2 documents would be stamped/)
      .waitFor();
    await button('Put it in force').press('Enter');
    await page.getByText('Version 1 in force').waitFor();

    await page.keyboard.press('n');
    await page.getByLabel('What it is called').fill('Cards');
    await button('Begin its draft').press('Enter');
    await page.getByRole('heading', { name: 'Cards' }).waitFor();
    await fill(/^Where/, 'Where', 'data one of "no-such-thing');
    await page.getByText(/quote/i).first().waitFor();
    await page.getByRole('dialog', { name: 'Where' }).getByRole('textbox').fill('data one of "payment-card"');
    await page.keyboard.press('Control+Enter');
    await soundings()
      .getByText('Confidential by “Cards”, because what it holds is Payment card')
      .first()
      .waitFor();
    await soundings().getByText('Internal by “Everything on shares” is weaker and loses.').first().waitFor();
    await expectAccessible(page, 'a level rule');
    await button('Put it in force').press('Enter');
    await page.getByText('Version 1 in force').waitFor();
  });

  it('are set backwards over a share, and put back', async () => {
    const before = readFileSync(join(root, 'cards.xlsx'));
    await page.goto(`${desk.origin}/protection/rules`);
    await page.getByText('3 items have another level than the rules in force say').waitFor();
    await expectAccessible(page, 'level rules');
    await button('Set levels backwards …').press('Enter');
    await button('Set the levels').press('Enter');
    await button('Estimate what it takes').press('Enter');
    await page.getByText(/3 items in 1 source, about/).waitFor();
    expect(await carried('cards.xlsx')).toBeUndefined();
    await button('Set them now').press('Enter');
    await page.getByText('2 stamped · 1 noted, carrying no marking').waitFor();
    await page.getByText('2 documents kept as before, for 30 days').waitFor();
    await page.getByRole('row', { name: 'cards.xlsx' }).waitFor();
    await expectAccessible(page, 'a run of levels');
    expect([await carried('cards.xlsx'), await carried('letter.docx')]).toEqual(['Confidential', 'Internal']);

    await page.getByRole('row', { name: 'letter.docx' }).click();
    await page.getByRole('heading', { name: 'letter.docx' }).waitFor();
    await soundings().getByText('Internal by “Everything on shares”, because it is held at all.').waitFor();
    await button('Choose its level').press('Enter');
    await page.getByRole('button', { name: /^Level/ }).press('Enter');
    await page.getByRole('option', { name: 'Confidential' }).click();
    await button('Set it').press('Enter');
    await page.getByText('Set, and stamped on the document.').waitFor();
    await soundings().getByText('Confidential, as somebody chose by hand.').waitFor();
    expect(await carried('letter.docx')).toBe('Confidential');

    await page.goBack();
    await button('Undo all of it …').press('Enter');
    await button('Put it all back').press('Enter');
    await page.getByText(/^Undone .*: 2 as they were, 1 left: somebody changed them since/).waitFor();
    expect(readFileSync(join(root, 'cards.xlsx')).equals(before)).toBe(true);
    expect(await carried('letter.docx')).toBe('Confidential');
  });
});
