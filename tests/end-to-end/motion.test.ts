import { createPublicKey, randomBytes, verify } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { PROJECT } from '../../launcher/project.ts';
import { device } from '../../standins/device/device.ts';
import { startStandins } from '../../standins/server.ts';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { situationOf, RuleBundle, SignedBundle } from '../../src/core/protection/devices/rule-bundle.ts';
import { decide } from '../../src/core/protection/handling/decision.ts';
import type { Motion } from '../../src/core/protection/handling/motion.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;
let standins: Server;
let standinPort = 0;
beforeAll(async () => {
  desk = await startDesk();
  page = await desk.signedIn();
  standins = await startStandins({
    ...{ port: 0, visitorOrigin: desk.visitorOrigin, dataDir: desk.folder, siteKeys: () => ({}) },
    device: device({
      deskOrigin: desk.origin,
      script: () => readFile(join(PROJECT, 'dist/standin-device/device.js'), 'utf8'),
    }),
  });
  standinPort = (standins.address() as AddressInfo).port;
});
afterAll(async () => {
  standins?.closeAllConnections();
  standins?.close();
  await desk?.stop();
});

const button = (name: string | RegExp) => page.getByRole('button', { name });
const soundings = () => page.getByRole('complementary', { name: 'Soundings' });

/** An agent on a laptop: comes in by a token, takes rules, decides by them, and tells what was done. */
class Agent {
  private constructor(
    readonly token: string,
    readonly key: string,
  ) {}

  static async enrol(enrolment: string): Promise<Agent> {
    const answer = await fetch(`${desk.origin}/interface/devices/enrol`, {
      method: 'POST',
      headers: { authorization: `Bearer ${enrolment}` },
      body: JSON.stringify({ name: 'Laptop 7', person: 'jonas@line.example', can: ['web form'] }),
    });
    expect(answer.status, await answer.clone().text()).toBe(200);
    const { token, key } = (await answer.json()) as { token: string; key: string };
    return new Agent(token, key);
  }

  async bundle(has?: number): Promise<RuleBundle> {
    const now = encodeURIComponent(new Date().toISOString());
    const answer = await fetch(
      `${desk.origin}/interface/devices/bundle?now=${now}${has === undefined ? '' : `&has=${has}`}`,
      { headers: { authorization: `Bearer ${this.token}` } },
    );
    const { bundle, signature } = SignedBundle.parse(await answer.json());
    const key = createPublicKey({ key: { kty: 'OKP', crv: 'Ed25519', x: this.key }, format: 'jwk' });
    expect(verify(null, Buffer.from(bundle), key, Buffer.from(signature, 'base64url'))).toBe(true);
    return RuleBundle.parse(JSON.parse(bundle));
  }

  /** A paste into a form, decided here, and told. */
  async pastes(cards: number, bundle: RuleBundle, said: object = {}) {
    const motion: Motion = {
      ...{ act: 'paste', channel: 'web form', person: 'jonas@line.example', program: '', network: '' },
      towards: ['https://shop.example/order'],
      item: {
        ...{ name: '', format: 'text', size: 80, level: null, document: null, people: 0, origin: '' },
      },
      findings: [{ detector: 'payment-card', matches: cards, confidence: 0.97 }],
    };
    const at = new Date();
    const { situation, rules } = situationOf(bundle, at.toISOString());
    const { outcome, weighed } = decide(motion, situation, rules);
    const held = weighed.flatMap((w) =>
      w.wants ? [{ rule: w.rule, version: w.version, wants: w.wants }] : [],
    );
    const event = {
      ...{ id: randomBytes(16).toString('hex'), at: at.toISOString(), kind: 'device' },
      ...{ ...motion, outcome, rules: held, ...said },
    };
    return { outcome, answer: await this.tells(event), event };
  }

  async tells(event: object) {
    const answer = await fetch(`${desk.origin}/interface/devices/events`, {
      method: 'POST',
      headers: { authorization: `Bearer ${this.token}` },
      body: JSON.stringify(event),
    });
    return (await answer.json()) as { taken: number; already: number; refused: unknown[] };
  }
}

let agent: Agent;

describe('a device', () => {
  it('is let in by a token that is made on the desk, and shown once', async () => {
    await page.goto(`${desk.origin}/protection/devices`);
    await page.getByText('No device was let in yet').waitFor();
    await expectAccessible(page, 'no devices');
    await button('Let devices in').press('Enter');
    await page.getByLabel('How many devices').fill('0');
    await page.keyboard.press('Enter');
    await page.getByText('At least 1').waitFor();
    await page.getByLabel('How many devices').fill('1');
    await page.keyboard.press('Enter');
    const token = (await page.getByLabel('The token').innerText()).trim();
    expect(token).toMatch(/^ye_/);
    await expectAccessible(page, 'the token');
    agent = await Agent.enrol(token);
    const again = await fetch(`${desk.origin}/interface/devices/enrol`, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}` },
      body: JSON.stringify({ name: 'Another', person: 'x@line.example', can: [] }),
    });
    expect(again.status).toBe(401);
    await page.keyboard.press('Escape');
    await page.reload();
    await page.getByRole('cell', { name: 'Laptop 7' }).waitFor();
    await page.getByText('it has not come in since it was enrolled').waitFor();
  });
});

describe('a handling rule', () => {
  it('is written by keyboard, and shows at once whom it would have hit', async () => {
    const none = await agent.bundle();
    expect(none.rules).toEqual([]);
    for (const cards of [1, 2, 4]) {
      const { outcome, answer } = await agent.pastes(cards, none);
      expect([outcome, answer.taken]).toEqual(['go', 1]);
    }
    await page.goto(`${desk.origin}/protection/handling`);
    await page.getByText('There is none yet. Press New').waitFor();
    await page.keyboard.press('n');
    await page.getByLabel('What it is called').fill('Cards into web forms');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Cards into web forms' }).waitFor();
    await soundings().getByText('asked in 30 days').waitFor();
    await soundings().getByText('Of 3 acts on these ways that were told.').waitFor();
    await button(/^What it has/).press('Enter');
    await page
      .getByRole('dialog', { name: 'What it has' })
      .getByRole('textbox')
      .fill('matches:payment-card at least 2');
    await page.keyboard.press('Control+Enter');
    // Two of the three hold now.
    await expect.poll(() => page.getByLabel('Acts it would have held for').getByRole('row').count()).toBe(3);
    await button(/^What then: puts into a web form/).press('Enter');
    await page.getByRole('option', { name: 'stop it' }).waitFor();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await soundings().getByText('stopped in 30 days').waitFor();
    await expectAccessible(page, 'a handling rule');
    await button('jonas').first().press('Enter');
    await page
      .getByRole('dialog', { name: /as it would have been/ })
      .getByText('3 acts with data in motion.')
      .waitFor();
    await expectAccessible(page, 'a person’s day');
    await page.keyboard.press('Escape');
  });

  it('put in force stops the clerk on the device, who calls it a false alarm, and it is seen on the desk', async () => {
    await button('Put it in force').press('Enter');
    await page.getByText(/^In force: devices decide by it/).waitFor();
    await expect
      .poll(async () => (await agent.bundle()).rules.map((r) => r.content.name))
      .toEqual(['Cards into web forms']);
    const bundle = await agent.bundle();
    const stopped = await agent.pastes(4, bundle, {
      answer: 'false alarm',
      reason: 'They are voucher numbers',
    });
    expect([stopped.outcome, stopped.answer.taken]).toEqual(['stop', 1]);
    expect((await agent.pastes(1, bundle)).outcome).toBe('go');
    // Replayed, it is one; for somebody else, it is refused.
    expect(await agent.tells(stopped.event)).toEqual({ taken: 0, already: 1, notKept: 0, refused: [] });
    expect((await agent.tells({ ...stopped.event, person: 'lotte@line.example' })).refused).toHaveLength(1);
    await page.reload();
    await soundings()
      .getByText(/0 of 1 at which somebody was asked or stopped/)
      .waitFor();
    await page.goto(`${desk.origin}/protection/activity?outcome=stop`);
    await page.getByText('1 act match', { exact: false }).waitFor();
    await page.getByRole('row', { name: /jonas/ }).first().press('Enter');
    await soundings().getByText('They are voucher numbers', { exact: false }).waitFor();
    await soundings().getByRole('heading', { name: 'By the rules of now' }).waitFor();
    await expectAccessible(page, 'what was done');
  });

  it('stops a clerk at a computer of their own, by keyboard, also without a network', async () => {
    await page.goto(`${desk.origin}/protection/devices?new=enrolment`);
    await page.getByLabel('How many devices').fill('1');
    await page.keyboard.press('Enter');
    const token = (await page.getByLabel('The token').innerText()).trim();
    const clerk = await (await desk.browser.newContext()).newPage();
    await clerk.goto(`http://device.localhost:${standinPort}/`);
    await clerk.getByLabel('Token').fill(token);
    await clerk.getByLabel('Whose it is').fill('lotte@line.example');
    await clerk.keyboard.press('Enter');
    await clerk.getByText(/rules \d+, 1 in force/).waitFor();
    await expectAccessible(clerk, 'a device');
    await clerk.getByLabel('on the network').press('Space');
    await clerk.getByLabel('What is in it').fill('Card 4111 1111 1111 1111, card 5500 0055 5555 5559');
    await clerk.getByLabel('Somebody').selectOption('web form');
    await clerk.getByLabel('Towards').selectOption('https://forms.harbour-club.example/join');
    await clerk.getByRole('button', { name: 'Do it' }).press('Enter');
    const notice = clerk.getByRole('dialog', { name: 'This holds personal data. Do you need it there?' });
    await notice.getByText('2 × payment-card', { exact: false }).waitFor();
    expect(await notice.innerText()).not.toContain('4111 1111');
    await expectAccessible(clerk, 'what a clerk reads');
    await notice.getByLabel('Your reason').fill('They are vouchers');
    await notice.getByRole('button', { name: 'This is a false alarm' }).press('Enter');
    await clerk.getByText('1 to tell').waitFor();
    await clerk.getByLabel('on the network').press('Space');
    await clerk.getByText('0 to tell').waitFor();
    await page.goto(`${desk.origin}/protection/activity?person=lotte@line.example`);
    await page.getByRole('cell', { name: 'stopped · false alarm' }).waitFor();
    // They ask the officer, who lets them by; they hear of it, and the rule holds no more.
    await clerk.getByRole('button', { name: 'Do it' }).press('Enter');
    await notice.getByRole('button', { name: 'Ask the officer' }).press('Enter');
    await notice.getByText('Write what you ask.').waitFor();
    await notice.getByLabel('Your reason').fill('The bank asked for them');
    await notice.getByRole('button', { name: 'Ask the officer' }).press('Enter');
    await clerk.getByText('0 to tell').waitFor();
    await page.goto(`${desk.origin}/protection/handling/asked`);
    await page.getByText('The bank asked for them').waitFor();
    await expectAccessible(page, 'what people asked');
    await button('Let them').press('Enter');
    await page.getByLabel('What they read').fill('For the bank, today');
    await expectAccessible(page, 'an answer');
    await page.keyboard.press('Enter');
    await page.getByText('✓ nobody waits for an answer').waitFor();
    await clerk.getByText(/The officer says yes, until .*: For the bank, today/).waitFor();
    await clerk.getByRole('button', { name: 'Do it' }).press('Enter');
    await clerk.getByText('Done.').waitFor();
    await clerk.context().close();
  });

  it('moves a file that it stops away, which is opened with a reason and given back', async () => {
    await page.goto(`${desk.origin}/protection/handling/1`);
    await page.getByRole('heading', { name: 'Wrong less often' }).waitFor();
    await button(/^What it keeps/).press('Enter');
    await page.getByRole('option', { name: /^the file that is stopped/ }).waitFor();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await button(/^How long it is kept/).waitFor();
    await page.getByText(/^Saved/).waitFor();
    await button('Put the changes in force').first().press('Enter');
    await page.getByText(/^In force: devices decide by it/).waitFor();
    // The worker makes the next bundle within seconds.
    await expect
      .poll(async () => (await agent.bundle()).rules[0]?.content.keeps.quarantine, { timeout: 60_000 })
      .toBe(true);
    await page.goto(`${desk.origin}/protection/devices?new=enrolment`);
    await page.getByLabel('How many devices').fill('1');
    await page.keyboard.press('Enter');
    const token = (await page.getByLabel('The token').innerText()).trim();
    const clerk = await (await desk.browser.newContext()).newPage();
    await clerk.goto(`http://device.localhost:${standinPort}/`);
    await clerk.getByLabel('Token').fill(token);
    await clerk.getByLabel('Whose it is').fill('bo@line.example');
    await clerk.keyboard.press('Enter');
    await clerk.getByText(/rules \d+, 1 in force/).waitFor();
    await clerk.getByLabel('A file').selectOption('cards.txt');
    await clerk.getByLabel('Somebody').selectOption('web form');
    await clerk.getByLabel('Towards').selectOption('https://forms.harbour-club.example/join');
    await clerk.getByRole('button', { name: 'Do it' }).press('Enter');
    await clerk.getByRole('dialog').getByRole('button', { name: 'Leave it' }).press('Enter');
    await clerk.getByText(/The file was moved away; a note lies in its place/).waitFor();
    expect(await clerk.getByLabel('What is in it').inputValue()).toContain('cards.txt is in quarantine');
    await page.goto(`${desk.origin}/protection/kept`);
    await button('Open cards.txt').waitFor({ timeout: 30_000 });
    await expectAccessible(page, 'what is kept');
    await button('Open cards.txt').press('Enter');
    await button('Open it').press('Enter');
    await page.getByText('Say why.').waitFor();
    await page.getByLabel('Why; it stands in the ledger').fill('They asked for it');
    const download = page.waitForEvent('download');
    await page.keyboard.press('Enter');
    expect(await readFile(await (await download).path(), 'utf8')).toContain('Booking 4471');
    await button('Give back cards.txt').press('Enter');
    await page.getByLabel('Why; it stands in the ledger').fill('It was theirs');
    await page.keyboard.press('Enter');
    await clerk.getByText('cards.txt is back where it was.').waitFor({ timeout: 30_000 });
    await page.reload();
    await page.getByRole('cell', { name: '✓ given back' }).waitFor();
    await clerk.context().close();
  });

  it('is watched by a lookout that is made from a lens, whose alert is looked into and solved', async () => {
    await page.goto(
      `${desk.origin}/protection/lookouts?new=lookout&lens=${encodeURIComponent('data one of "payment-card"')}`,
    );
    await page.getByLabel('What it is called').fill('Cards again');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Cards again' }).waitFor();
    await soundings().getByText('raised in 30 days').waitFor();
    await button(/^When it raises/).press('Enter');
    await page.getByRole('option', { name: 'every time' }).waitFor();
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('Enter');
    await page.getByLabel('What it would have raised').getByRole('row').nth(3).waitFor();
    await expectAccessible(page, 'a lookout');
    await button('Put it in force').press('Enter');
    await page.getByText(/^On: it sees all/).waitFor();
    const bundle = await agent.bundle();
    expect((await agent.pastes(3, bundle)).answer.taken).toBe(1);
    await page.goto(`${desk.origin}/protection/alerts`);
    const row = page.getByRole('row', { name: /Cards again, jonas@line.example/ });
    await expect
      .poll(
        async () => {
          await page.reload();
          await page.getByRole('heading', { name: 'Alerts' }).waitFor();
          await page.waitForTimeout(1000);
          return row.count();
        },
        { timeout: 60_000 },
      )
      .toBe(1);
    await expectAccessible(page, 'alerts');
    await row.press('Enter');
    await page.getByText('It was done.').first().waitFor();
    await expectAccessible(page, 'an alert');
    await button('Look into it').press('Enter');
    await button('Look into it').waitFor({ state: 'detached' });
    await button('Solved').press('Enter');
    await button('It is solved').press('Enter');
    await page.getByText('Say what was done about it.').waitFor();
    await page.getByLabel('What was done about it').fill('Talked to him');
    await page.keyboard.press('Tab');
    await button('It is solved').press('Enter');
    await page.getByText('✓ solved', { exact: false }).waitFor();
    await page.getByRole('list', { name: 'Since then' }).getByText('Talked to him').waitFor();
    await page.goto(`${desk.origin}/protection/lookouts`);
    await page.getByRole('row', { name: /Cards again/ }).press('Space');
    await button('Pause').press('Enter');
    await page.getByText('1 lookout paused.').waitFor();
    await expectAccessible(page, 'lookouts');
  });

  it('tells which devices do not know it yet', async () => {
    const bundle = await agent.bundle();
    await agent.bundle(bundle.number);
    await page.goto(`${desk.origin}/protection/devices`);
    await expect.poll(() => page.getByRole('cell', { name: '✓' }).count()).toBe(2);
    await page.goto(`${desk.origin}/protection/handling/1`);
    await button('Pause it').press('Enter');
    await page.getByText(/^Paused: devices/).waitFor();
    await page.goto(`${desk.origin}/protection/devices?standing=behind`);
    const behind = page.getByRole('cell', { name: 'one bundle behind' });
    // The worker makes the next bundle within seconds.
    await expect
      .poll(
        async () => {
          await page.reload();
          await behind.or(page.getByText('No device matches')).first().waitFor();
          return behind.count();
        },
        { timeout: 60_000 },
      )
      .toBe(2);
    expect((await agent.bundle(bundle.number)).rules).toEqual([]);
  });
});

describe('a group that rules use', () => {
  it('is made by keyboard with what is wrong told beside it, and changed on its sheet', async () => {
    await page.goto(`${desk.origin}/protection/groups`);
    await page.getByText('There is none yet. Press New', { exact: false }).waitFor();
    await button('New').waitFor();
    await page.keyboard.press('n');
    await page.getByLabel('What it is called').fill('Payment sites');
    const members = page.getByLabel('Members, one a line');
    await members.fill('pay.example\nno domain');
    await page.getByRole('button', { name: 'Make it' }).press('Enter');
    await page.getByText('“no domain” is no domain.', { exact: false }).waitFor();
    await members.fill('pay.example');
    await page.getByRole('button', { name: 'Make it' }).press('Enter');
    await page.getByRole('heading', { name: 'Payment sites' }).waitFor();
    await button(/^Whether it is ours/).press('Enter');
    await page.getByRole('option', { name: /^ours/ }).waitFor();
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('Enter');
    await page.getByText(/^Saved/).waitFor();
    await page.getByText('No handling rule names it.').waitFor();
    await expectAccessible(page, 'a group');
  });
});
