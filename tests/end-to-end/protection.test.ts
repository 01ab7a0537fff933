import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { userInfo } from 'node:os';
import { z } from 'zod';
import { freePorts } from '../../launcher/free-port.ts';
import { staffLink } from '../../src/server/accounts/staff/staff-link.ts';
import { Mailbox } from '../../standins/mailbox.ts';
import { CLERKS } from '../../standins/office/clerks.ts';
import { levelClient } from '../../standins/office/level-client.ts';
import { office } from '../../standins/office/office.ts';
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
    const file = page.getByLabel(/^A document, sheet, slides/);
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

describe('levels that are published', () => {
  const [clerk] = CLERKS;
  const owner = `${userInfo().username}@ferry.example`.toLowerCase();
  let server: Server | undefined;
  let mailbox: Mailbox | undefined;
  let token = '';
  afterAll(() => {
    server?.close();
    server?.closeAllConnections();
    mailbox?.close();
  });

  it('are offered to people of a list, and what anybody is offered explains itself', async () => {
    await page.goto(`${desk.origin}/protection/published`);
    await page.getByText('No list of people was read yet').waitFor();
    await button('Read in a list of people …').press('Enter');
    const file = page.getByLabel(/^A list in CSV/);
    const csv = (text: string) => ({ name: 'people.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
    await file.setInputFiles(csv('address,name,groups\nno address,Ida,Terminal\n'));
    await button('Read it in').press('Enter');
    await page.getByText(/^row 2, address: An e-mail address/).waitFor();
    await file.setInputFiles(
      csv(
        `address,name,groups\n${clerk.address},${clerk.name},Terminal\n${owner},Who Owns It,\n,Terminal,Ashore\n`,
      ),
    );
    await button('Read it in').press('Enter');
    await page
      .getByText(/^2 people in 2 groups/)
      .first()
      .waitFor();

    await page.keyboard.press('n');
    await page.getByLabel('What it is called').fill('Who works here');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Who works here' }).waitFor();
    await soundings().getByText('would be offered more').waitFor();
    await button(/^Begins with/).press('Enter');
    await page.getByRole('option', { name: 'Internal' }).click();
    await button(/^Not to/).press('Enter');
    await page.getByRole('option', { name: /^Terminal/ }).click();
    await page.keyboard.press('Escape');
    await soundings().getByText('of 2 people').waitFor();
    await soundings()
      .getByText(/nearest for 1 person/)
      .waitFor();
    await button(/^Not to/).press('Enter');
    await page.getByRole('option', { name: /^Terminal/ }).click();
    await page.keyboard.press('Escape');
    await soundings()
      .getByText(/nearest for 2 people/)
      .waitFor();
    await expectAccessible(page, 'a publication');
    await button('Put it in force').press('Enter');
    await page.getByText('Version 1 in force').waitFor();

    await page.goto(`${desk.origin}/protection/published`);
    await page.getByLabel('Name or address').fill('Ida');
    await page.keyboard.press('Enter');
    await page
      .getByText('Something new begins with Internal, by “Who works here”, which is nearest to them.')
      .waitFor();
    await page.getByText('In Terminal, Ashore (1 up).').waitFor();
    await expectAccessible(page, 'what somebody is offered');
  });

  it('are chosen by a clerk without an account, in a program that was let in', async () => {
    await button('Let a program in …').press('Enter');
    await page.getByLabel('What it is called').fill('Editor');
    await page.keyboard.press('Enter');
    token = (await page.getByLabel('Token').textContent()) ?? '';
    expect(token).toMatch(/^yw_[\w-]{43}$/);
    await button('It is kept').press('Enter');

    const [mailPort = 0] = await freePorts(1);
    mailbox = new Mailbox(desk.folder);
    await mailbox.start(mailPort);
    const answer = office({ dataDir: desk.folder, levels: levelClient(desk.origin, token), mailPort });
    server = createServer((q, r) => void answer(q, r, new URL(q.url ?? '/', 'http://office.localhost')));
    await new Promise<void>((ready) => server?.listen(0, '127.0.0.1', ready));
    const own = await (await desk.browser.newContext()).newPage();
    const to = (path: string) =>
      own.goto(`http://127.0.0.1:${(server?.address() as AddressInfo).port}${path}`);
    await to('/');
    await own.getByRole('link', { name: 'Season plan.docx' }).press('Enter');
    await expect.poll(() => own.getByRole('radio', { name: /^Internal/ }).isChecked()).toBe(true);
    await own.getByRole('radio', { name: /^Confidential/ }).press('Space');
    await own.getByRole('button', { name: 'Set the level' }).press('Enter');
    await own.getByText('It is Confidential.').waitFor();
    await own.getByText(`Confidential · ${clerk.name}`).waitFor();

    await expectAccessible(own, 'the office');
    await own.getByRole('radio', { name: /^Internal/ }).press('Space');
    await own.getByRole('button', { name: 'Set the level' }).press('Enter');
    await own.getByText('Lowering it from Confidential needs a reason.').waitFor();
    await own.getByLabel(/^Reason/).fill('It is in the brochure');
    await own.getByRole('button', { name: 'Set the level' }).press('Enter');
    await own.getByText('It is Internal.').waitFor();

    await to('/mail');
    await own.getByLabel('To', { exact: true }).fill('harbour@authority.example');
    await own.getByLabel('Subject').fill('Berth 4');
    await own.getByLabel('Message').fill('The ramp is bent.');
    await own.getByRole('radio', { name: /^Confidential/ }).press('Space');
    await own.getByRole('button', { name: 'Send' }).press('Enter');
    await own.getByText(/^It went to harbour@authority.example, stamped/).waitFor();
    const sent = readFileSync(join(desk.folder, 'mailbox/00000001.eml'));
    expect((await readFileLevel(sent))?.name).toBe('Confidential');
    expect(sent.toString()).toContain('The ramp is bent.');
    await own.close();
    await page.reload();
    await page
      .getByRole('row', { name: /Editor/ })
      .getByRole('button', { name: 'End its token' })
      .press('Enter');
    await page.getByText('Editor cannot ask any more.').waitFor();
    await expect(levelClient(desk.origin, token).offered(clerk.address)).rejects.toThrow('Send a token');
  });

  it('are proposed to the owner, who answers by a link without an account', async () => {
    await page.goto(`${desk.origin}/protection/rules?new=rule`);
    await page.getByLabel('What it is called').fill('Ask about notes');
    await button('Begin its draft').press('Enter');
    await page.getByRole('heading', { name: 'Ask about notes' }).waitFor();
    await fill(/^Where/, 'Where', 'format one of "plain text"');
    await button(/^Where: format/).waitFor();
    await button(/^When/).press('Enter');
    await page.getByRole('option', { name: 'once its owner agrees' }).click();
    await button(/^When: once its owner agrees/).waitFor();
    await soundings().getByText('owners would be asked about').waitFor({ timeout: 60_000 });
    await soundings()
      .getByText(/asks its owner for Confidential, because format is plain text/)
      .waitFor();
    await button('Put it in force').press('Enter');
    await page.getByText('Version 1 in force').waitFor();

    await page.goto(`${desk.origin}/protection/rules/proposed`);
    await page.getByRole('row', { name: /note\.txt/ }).waitFor({ timeout: 60_000 });
    await page.getByText('1 item waits for an owner’s answer').waitFor();
    await expectAccessible(page, 'what is proposed');
    const staff = await desk.store.one(
      z.object({ id: z.number() }),
      'SELECT id FROM staff WHERE address = ?',
      [owner],
    );
    const settings = { SECRET_KEY: 'cd'.repeat(32), WEB_ORIGIN: desk.origin };
    const link = staffLink({ settings, now: () => new Date() } as never, 'proposed', staff?.id ?? 0);
    const own = await (await desk.browser.newContext()).newPage();
    await own.goto(`${link}x`);
    await own.getByText('This link is over, or was cut short.').waitFor();
    await own.goto(link);
    await own.getByText(/Confidential is proposed, because format is plain text/).waitFor();
    await expectAccessible(own, 'what an owner is asked');
    await own.getByRole('button', { name: /^Yes, note\.txt is Confidential/ }).press('Enter');
    await own.getByText('✓ It is on record. What is plain text carries no marking.').waitFor();
    await own.getByText('Nothing is asked of you. Thank you.').waitFor();
    await own.close();
    await page.reload();
    await page.getByText('Nothing is open').waitFor();
  });
});
