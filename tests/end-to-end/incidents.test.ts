import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { addAccount, hashPassword } from '../../src/server/accounts/account.ts';
import { expectAccessible, PASSWORD, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;
beforeAll(async () => {
  desk = await startDesk();
  page = await desk.signedIn();
  await desk.store.run(
    "INSERT INTO device (name, person, platform, token_hash, can, enrolled_at) VALUES ('Laptop 9', 'jonas@line.example', 'x', ?, '[]', '2026-01-01')",
    [Buffer.alloc(32, 7)],
  );
  const detail = {
    ...{ towards: [], program: '', network: '', rules: [], counted: [], reason: '', change: null },
    item: {
      name: 'manifest.xlsx',
      format: 'xlsx',
      size: 9,
      level: null,
      document: null,
      people: 318,
      origin: '',
    },
    findings: [
      { detector: 'person-name', matches: 318, confidence: 0.9 },
      { detector: 'health-condition', matches: 3, confidence: 0.9 },
    ],
  };
  await desk.store.run(
    "INSERT INTO activity_event (at, id, taken_at, kind, person, act, channel, device_id, outcome, detail) VALUES (NOW() - INTERVAL 3 DAY, ?, NOW(), 'device', 'jonas@line.example', 'copy', 'removable drive', 1, 'record', ?)",
    [Buffer.alloc(16, 9), JSON.stringify(detail)],
  );
});
afterAll(() => desk?.stop());

const button = (name: string | RegExp) => page.getByRole('button', { name });

describe('a laptop that was lost', () => {
  it('is told of by anybody, without an account', async () => {
    const context = await desk.browser.newContext();
    const anyone = await context.newPage();
    await anyone.goto(`${desk.origin}/report`);
    await expectAccessible(anyone, 'telling');
    await anyone.getByLabel('In a few words').fill('<i>Laptop</i> left on MS Corrie');
    await anyone.waitForTimeout(2200);
    await anyone.keyboard.press('Enter');
    await anyone
      .getByRole('status')
      .getByText(/It has the number I-1/)
      .waitFor();
    await context.close();
  });

  it('is reckoned, weighed with its sum, and decided, by keyboard', async () => {
    await page.goto(`${desk.origin}/cases/incidents`);
    await page.getByText(/1 is open/).waitFor();
    await expectAccessible(page, 'incidents');
    await page
      .getByRole('link', { name: /I-1, <i>Laptop<\/i> left/ })
      .first()
      .press('Enter');
    await button('Say what it touched').first().press('Enter');
    await page.getByLabel('A device').selectOption({ label: 'Laptop 9, jonas@line.example' });
    await page.getByLabel('The people live in').fill('DK SE');
    await expectAccessible(page, 'what it touched');
    await page.keyboard.press('Enter');
    await button('Reckon who and how many').press('Enter');
    await page.getByText('up to 318 people, in 1 item.').waitFor();
    await page.getByText(/to tell the authority: say how grave it is/).waitFor();
    await button('Weigh it').first().press('Enter');
    await expectAccessible(page, 'weighing');
    await button(/Keep it: very high|Keep it: high|Keep it: medium/).press('Enter');
    await page.getByRole('table', { name: 'The sum' }).waitFor();
    await button('Decide who is told').press('Enter');
    await button('Decide it; a second person agrees').press('Enter');
    await page.getByText('○ somebody else has to agree').waitFor();
    await expectAccessible(page, 'an incident');
  });

  it('is agreed to by a second person, and both letters are there', async () => {
    await addAccount(desk.store, {
      email: 'second@test.example',
      name: 'The second',
      title: '',
      role: 'officer',
      passwordHash: await hashPassword(PASSWORD),
    });
    const context = await desk.browser.newContext({ viewport: { width: 1280, height: 800 } });
    const answer = await context.request.post(`${desk.origin}/api/accounts/sign-in`, {
      data: { email: 'second@test.example', password: PASSWORD },
      headers: { origin: desk.origin },
    });
    expect(answer.status()).toBe(200);
    const other = await context.newPage();
    await other.goto(`${desk.origin}/cases/incidents/1`);
    await other.getByRole('button', { name: 'I agree' }).press('Enter');
    await other.getByText(/✓ agreed by The second/).waitFor();
    await other
      .getByText('To the authority (Art. 33(3))')
      .press('Enter')
      .catch(() => other.getByText('To the authority (Art. 33(3))').click());
    await other
      .getByText(/up to 318 people/)
      .first()
      .waitFor();
    await other.getByText('To the people (Art. 34(2))').click();
    await other.getByLabel('Language of the letter').selectOption('da');
    await other
      .getByText(/der er sket noget med dine oplysninger/)
      .first()
      .waitFor();
    await context.close();
    const entries = await desk.store.all(
      z.object({ action: z.string() }),
      "SELECT action FROM ledger_entry WHERE object = 'incident' ORDER BY id",
    );
    expect(entries.map((e) => e.action)).toEqual([
      'incident.add',
      'incident.touch',
      'incident.reckon',
      'incident.weigh',
      'incident.decide',
      'incident.agree',
    ]);
  });
});
