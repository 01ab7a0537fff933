import { existsSync, mkdirSync, readFileSync, utimesSync, writeFileSync } from 'node:fs';
import { userInfo } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { verifyLedger } from '../../launcher/verify-ledger.ts';
import { USUAL_SOURCE } from '../../src/core/holdings/sources/source.ts';
import { USUAL_SURVEY } from '../../src/core/holdings/surveys/survey.ts';
import { addAccount, hashPassword } from '../../src/server/accounts/account.ts';
import { staffLink } from '../../src/server/accounts/staff/staff-link.ts';
import { writeStaff } from '../../src/server/accounts/staff/staff.ts';
import { holdLink } from '../../src/server/retention/holds/hold-link.ts';
import { expectAccessible, PASSWORD, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;
let root: string;

const OWNER = `${userInfo().username}@ferry.example`;
const OLD = ['list-2021-03-01.txt', 'list-2021-03-02.txt', 'Books/ledger-2021.txt', 'Inquiry/crash-2021.txt'];
const there = () => OLD.filter((name) => existsSync(join(root, 'Lists', name)));

beforeAll(async () => {
  desk = await startDesk();
  root = join(desk.folder, 'estate', 'port');
  for (const name of [...OLD, 'list-new.txt']) {
    const path = join(root, 'Lists', name);
    mkdirSync(join(path, '..'), { recursive: true });
    writeFileSync(path, `Passengers: kim@ferry.example, ${name}`);
    const at = name.includes('2021') ? new Date('2021-03-02T10:00:00Z') : new Date();
    utimesSync(path, at, at);
  }
  await addAccount(desk.store, {
    email: 'sanne@test.example',
    name: 'Sanne Holt',
    title: 'Records',
    role: 'records manager',
    passwordHash: await hashPassword(PASSWORD),
  });
  await desk.store.transaction((tx) =>
    writeStaff(tx, new Date(), null, {
      members: [{ address: OWNER, name: 'Tove Lindqvist', unit: 'Port', groups: [], left: null }],
      groups: [],
    }),
  );
  // Two people, as the office wants it.
  await desk.store.run("REPLACE INTO approval_policy (kind, needed) VALUES ('retention rule', 1)");
  page = await desk.signedIn();
  page.setDefaultTimeout(12_000);
  await ask('/api/holdings/sources', {
    content: { ...USUAL_SOURCE, name: 'Port share' },
    address: { kind: 'folder', root },
  });
  await surveyOf('All', '1');
}, 180_000);

async function surveyOf(name: string, source: string) {
  const { id } = await ask<{ id: number }>('/api/holdings/surveys', {
    ...USUAL_SURVEY,
    name,
    sources: [source],
  });
  await ask<{ id: string }>(`/api/holdings/surveys/${id}/estimate`, {});
  await page.goto(`${desk.origin}/holdings/surveys/${id}`);
  await page.getByRole('button', { name: /^Start/ }).click({ timeout: 60_000 });
  await page
    .getByText(/^✓|done/i)
    .first()
    .waitFor({ timeout: 60_000 });
}

afterAll(() => desk?.stop());

async function ask<T>(path: string, data: object): Promise<T> {
  const answer = await page
    .context()
    .request.post(`${desk.origin}${path}`, { data, headers: { origin: desk.origin } });
  expect(answer.ok(), `${path}: ${await answer.text()}`).toBe(true);
  return (await answer.json()) as T;
}
const button = (name: string | RegExp, on = page) => on.getByRole('button', { name });
const soundings = () => page.getByRole('complementary', { name: 'Soundings' });

/** Takes a place in by the keyboard: opens the slot, types it, and is done. */
async function takePlace(text: string) {
  await button(/^Where: /).press('Enter');
  const editor = page.getByRole('dialog', { name: 'Where' });
  await editor.getByRole('combobox').fill(text);
  await editor.getByRole('option', { name: `Take in “${text}”` }).waitFor();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
}

async function keepFor(count: string, unit: string) {
  await button(/^How long: /).press('Enter');
  const editor = page.getByRole('dialog', { name: 'How long' });
  await editor.getByRole('textbox').fill(count);
  await editor.getByLabel('Unit').selectOption(unit);
  await page.keyboard.press('Control+Enter');
}

async function chooseSanne() {
  await page.getByRole('searchbox', { name: /Who is asked/ }).fill('Sanne');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.getByText(/^Chosen: /).waitFor();
}

const LETTER = 'The ramp is bent. Write to kim@ferry.example about it.';

/** Writes a rule for what was not changed for five years. */
async function begin(name: string, place: string, then: string) {
  await page.goto(`${desk.origin}/retention/rules?new=rule`);
  await page.getByLabel('What it is called').fill(name);
  await page.keyboard.press('Enter');
  await page.getByRole('heading', { name }).waitFor();
  await takePlace(place);
  await keepFor('5', 'years');
  await button(/^What follows: /).press('Enter');
  await page.getByRole('option', { name: then }).click();
  await page.getByText(/^Saved · edited/).waitFor();
}

describe('retention', () => {
  it('is written as a sentence that tells what it would do, and what the law keeps longer', async () => {
    await page.goto(`${desk.origin}/retention`);
    await page.getByText(/with neither, kept for good/).waitFor();
    await expectAccessible(page, 'no rule yet');
    await page.goto(`${desk.origin}/retention/law`);
    await page.getByRole('heading', { name: 'No law is told yet' }).waitFor();
    await page.keyboard.press('n');
    await page.getByLabel('What it is called').fill('Books Act');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Books Act' }).waitFor();
    await keepFor('10', 'years');
    await takePlace('Port share/Lists/Books');
    await button('Put it in force').press('Enter');
    await page.getByText('Say where it is written.').first().waitFor();
    await button(/^Law and article/).press('Enter');
    await page.getByRole('dialog', { name: 'Law and article' }).getByRole('textbox').fill('Books Act, § 12');
    await page.keyboard.press('Control+Enter');
    await page.getByText(/^Saved · edited/).waitFor();
    await button('Put it in force').press('Enter');
    await page.getByText('Version 1 in force').waitFor();
    await expectAccessible(page, 'a bound of law');

    await page.goto(`${desk.origin}/retention/rules`);
    await page.getByText('Press New to say how long something is kept.').waitFor();
    await page.keyboard.press('n');
    await page.getByLabel('What it is called').fill('Old lists');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Old lists' }).waitFor();
    await soundings().getByText('Choose how long it keeps').waitFor();
    await takePlace('Port share/Lists');
    await keepFor('2', 'years');
    await soundings().getByText('due now').waitFor();
    await expect.poll(() => soundings().getByText(/^\d+$/).first().innerText()).toBe('3');
    await soundings().getByText('◆ 1 item stays longer, as the law asks').waitFor();
    await soundings().getByRole('link', { name: 'ledger-2021.txt' }).waitFor();
    await page
      .getByRole('table', { name: /^First to go/ })
      .getByText('list-2021-03-01.txt')
      .waitFor();
    await expectAccessible(page, 'a rule');
  });

  it('answers of any one item why it is here, and when it goes', async () => {
    await button('Try on one item').press('Enter');
    await page.getByLabel('Part of its name').fill('ledger-2021');
    await page
      .getByRole('dialog')
      .getByRole('button', { name: /ledger-2021\.txt/ })
      .click();
    const tried = page.getByRole('region', { name: /ledger-2021/ });
    await tried.getByText('✓ Kept until 3 Mar 2031').waitFor();
    await tried.getByText('“Books Act, Books Act, § 12” has it end on 2 Mar 2031.').waitFor();
    await expectAccessible(page, 'trying on one item');
    await page.keyboard.press('Escape');
  });

  it('is put in force by two people, once its reason is written', async () => {
    await button('Ask for it to be in force …').press('Enter');
    await page.getByLabel('Why it is to be in force').fill('Nobody asks for them');
    await chooseSanne();
    await button('Ask them').click();
    await page
      .getByText(/Books Act, § 12 moves 1 of its items/)
      .first()
      .waitFor();
    await page.keyboard.press('Escape');
    // Mended: the rule leaves the books alone.
    await button('Say why it asks for more than the law lets').press('Enter');
    await page.getByText(/^Saved · edited/).waitFor();
    await button('Ask for it to be in force …').press('Enter');
    await page.getByLabel('Why it is to be in force').fill('Nobody asks for them');
    await chooseSanne();
    await button('Ask them').click();
    await page.getByText('○ Version 1 waits: 0 of 1 agreed').waitFor();
    const context = await desk.browser.newContext({ viewport: { width: 1280, height: 800 } });
    await context.request.post(`${desk.origin}/api/accounts/sign-in`, {
      data: { email: 'sanne@test.example', password: PASSWORD },
      headers: { origin: desk.origin },
    });
    const sanne = await context.newPage();
    await sanne.goto(`${desk.origin}/retention/rules/1`);
    await sanne.getByRole('button', { name: 'Agree …', exact: true }).press('Enter');
    await sanne.getByRole('textbox', { name: 'Why' }).fill('As the schedule says');
    await sanne.getByRole('button', { name: 'I agree', exact: true }).press('Enter');
    await sanne.getByText('Version 1 in force').waitFor();
    await context.close();
  });

  it('a hold that is placed in the middle wins, and its custodian says that they know', async () => {
    await page.goto(`${desk.origin}/retention/disposals`);
    await page
      .getByRole('link', { name: /Old lists/ })
      .first()
      .click({ timeout: 90_000 });
    await page.getByRole('heading', { name: '3 items of Tove Lindqvist may go, once agreed' }).waitFor();
    await expectAccessible(page, 'a disposal');
    await page.goto(`${desk.origin}/retention/holds`);
    await page.getByRole('heading', { name: 'Nothing is held' }).waitFor();
    await page.keyboard.press('n');
    await page.getByLabel('What it is called').fill('Collision at berth 4');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Collision at berth 4' }).waitFor();
    await takePlace('Port share/Lists/Inquiry');
    await button(/^Matter: /).press('Enter');
    await page.getByRole('dialog', { name: 'Matter' }).getByRole('textbox').fill('Case 26-114');
    await page.keyboard.press('Control+Enter');
    await button(/^Custodians: /).press('Enter');
    await page.getByRole('dialog', { name: 'Custodians' }).getByRole('combobox').fill('tove@ferry.example');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Escape');
    await soundings().getByText('would go by now but for it').waitFor();
    await page.getByText(/^Saved · edited/).waitFor();
    await button('Place it').press('Enter');
    await page.getByText('Version 1 in force').waitFor();
    await expectAccessible(page, 'a hold');
    const settings = { SECRET_KEY: 'cd'.repeat(32), WEB_ORIGIN: desk.origin };
    const own = await (await desk.browser.newContext()).newPage();
    await expect
      .poll(
        async () =>
          (
            await desk.store.one(
              z.object({ n: z.number() }),
              'SELECT COUNT(*) AS n FROM hold_notice WHERE told_at IS NOT NULL',
            )
          )?.n,
        { timeout: 60_000 },
      )
      .toBe(1);
    await own.goto(holdLink({ settings } as never, '1', 'tove@ferry.example'));
    await own.getByText('Case 26-114').waitFor();
    await expectAccessible(own, 'what a custodian is told');
    await own.getByRole('button', { name: 'I know of it, and keep it' }).press('Enter');
    await own.getByText('✓ You said that you know of it. Thank you.').waitFor();
    await own.close();
    await page.reload();
    await soundings()
      .getByText(/knows of it since/)
      .waitFor();
  });

  it('goes once its owner agrees, but for what is held; and its certificate is checked outside', async () => {
    const staff = await desk.store.one(
      z.object({ id: z.number() }),
      'SELECT id FROM staff WHERE address = ?',
      [OWNER],
    );
    const settings = { SECRET_KEY: 'cd'.repeat(32), WEB_ORIGIN: desk.origin };
    const link = staffLink({ settings, now: () => new Date() } as never, 'letting-go', staff?.id ?? 0);
    const own = await (await desk.browser.newContext()).newPage();
    await own.goto(link.replace('/letting-go/', '/proposed/'));
    await own.getByText('This link is over, or was cut short.').waitFor();
    await own.goto(link);
    await own.getByRole('heading', { name: 'Old lists' }).waitFor();
    await expectAccessible(own, 'what an owner is asked');
    await own.getByRole('button', { name: 'Keep those that are ticked' }).click();
    await own.getByText('◆ Tick what has to stay.').waitFor();
    await own.getByLabel('list-2021-03-02.txt stays').check();
    await own.getByRole('button', { name: 'Keep those that are ticked' }).click();
    await own.getByText(/Say why they have to stay/).waitFor();
    await own.getByLabel('list-2021-03-02.txt stays').check();
    await own.getByLabel('Why something has to stay').fill('A complaint');
    await own.getByRole('button', { name: 'Keep those that are ticked' }).click();
    await own.getByText('✓ 1 stays; of the other 2 you are asked still.').waitFor();
    expect(there()).toEqual(OLD);
    await own.getByRole('button', { name: 'Yes, let all of Old lists go' }).press('Enter');
    await own.getByText('✓ They go.').waitFor();
    await own.close();

    await page.goto(`${desk.origin}/retention/disposals/1`);
    await page.getByText('It is held by “Collision at berth 4”.').waitFor({ timeout: 90_000 });
    await page
      .getByRole('heading', { name: '✓ 1 item of Tove Lindqvist is gone' })
      .waitFor({ timeout: 60_000 });
    expect(there()).toEqual(OLD.slice(1));
    await expectAccessible(page, 'a disposal that is done');
    await button('Put 1 back').press('Enter');
    await page.getByText('1 item is back.').waitFor();
    expect(there()).toEqual(OLD);
    expect(readFileSync(join(root, 'Lists', OLD[0] ?? ''), 'utf8')).toMatch(
      /^Passengers: kim@ferry\.example/,
    );
  });

  it('hands out a certificate that is checked without the desk', async () => {
    // Once more, without a time in which it can be put back.
    await ask('/api/retention/exceptions', {
      items: [1],
      content: {
        keep: { count: 1, unit: 'days' },
        after: 'changed',
        yearEnd: false,
        unknown: 'never begins',
        then: 'ask',
      },
      reason: 'as agreed',
      until: null,
    });
    const asked = async () =>
      (
        await desk.store.one(
          z.object({ id: z.coerce.string() }),
          "SELECT id FROM disposal WHERE state = 'asked' AND rule_id LIKE 'item:%'",
        )
      )?.id;
    await expect.poll(asked, { timeout: 60_000, interval: 1000 }).toBeDefined();
    const id = (await asked()) ?? '';
    await desk.store.run('UPDATE disposal SET undo_days = 0 WHERE id = ?', [id]);
    await page.goto(`${desk.origin}/retention/disposals/${id}`);
    await button('Agree: let them go').press('Enter');
    await page.getByRole('heading', { name: /^✓ 1 item of .* is gone$/ }).waitFor({ timeout: 60_000 });
    const link = page.getByRole('link', { name: 'with proof (JSON)' });
    await expect
      .poll(
        async () => {
          await page.reload();
          await page.getByRole('heading', { name: /is gone$/ }).waitFor();
          return link.isVisible();
        },
        { timeout: 60_000, interval: 3000 },
      )
      .toBe(true);
    // Until the ledger is sealed, there is no way to its head.
    const proven = async () =>
      (
        (await (
          await page.request.get(`${desk.origin}/api/retention/disposals/${id}/certificate`)
        ).json()) as { proof: unknown }
      ).proof;
    await expect.poll(proven, { timeout: 60_000, interval: 1000 }).not.toBeNull();
    const saved = page.waitForEvent('download');
    await link.click();
    const path = await (await saved).path();
    expect(await verifyLedger([path])).toBe(0);
    const touched = readFileSync(path, 'utf8').replace(/"gone": (\d+)/, (_, n) => `"gone": ${Number(n) + 1}`);
    writeFileSync(path, touched);
    expect(await verifyLedger([path])).toBe(1);
    const paper = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Certificate (PDF)' }).click();
    expect(
      readFileSync(await (await paper).path())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
  });

  it('moves to the archive what a rule says, once somebody said where that is', async () => {
    const yard = join(desk.folder, 'estate', 'yard');
    const vault = join(desk.folder, 'estate', 'vault');
    for (const folder of [join(yard, 'Docks'), join(yard, 'Letters'), vault])
      mkdirSync(folder, { recursive: true });
    const plan = join(yard, 'Docks', 'plan.txt');
    writeFileSync(plan, 'The slipway as it was built.');
    const letter = join(yard, 'Letters', 'ramp.txt');
    writeFileSync(letter, LETTER);
    for (const path of [plan, letter]) utimesSync(path, new Date('2019-05-05'), new Date('2019-05-05'));
    for (const [name, folder] of [
      ['Yard share', yard],
      ['Vault', vault],
    ] as const)
      await ask('/api/holdings/sources', {
        content: { ...USUAL_SOURCE, name },
        address: { kind: 'folder', root: folder },
      });
    await surveyOf('Yard', '2');
    // One is enough now; that two are asked was seen before.
    await desk.store.run("REPLACE INTO approval_policy (kind, needed) VALUES ('retention rule', 0)");
    await begin('Old plans', 'Yard share/Docks', 'move to the archive');
    await button('Put it in force').press('Enter');
    await page.getByText('Nobody said yet where the archive is.').first().waitFor();

    await page.goto(`${desk.origin}/retention`);
    await button(/^The archive: none yet/).press('Enter');
    await page.getByRole('option', { name: 'Vault' }).click();
    await button(/^Place within it: /).press('Enter');
    await page.getByRole('dialog', { name: 'Place within it' }).getByRole('textbox').fill('Plans');
    await page.keyboard.press('Control+Enter');
    await page.getByText('Saved.').first().waitFor();
    await page.goto(`${desk.origin}/retention/rules`);
    await page
      .getByRole('link', { name: /^Old plans/ })
      .first()
      .click();
    await button('Put it in force').press('Enter');
    await page.getByText('Version 1 in force').waitFor();
    const moved = join(vault, 'Plans', 'Yard share', 'Docks', 'plan.txt');
    await expect
      .poll(() => [existsSync(plan), existsSync(moved)], { timeout: 90_000, interval: 1000 })
      .toEqual([false, true]);
    expect(readFileSync(moved, 'utf8')).toBe('The slipway as it was built.');
    await page.goto(`${desk.origin}/retention/disposals`);
    await page.getByRole('link', { name: 'Old plans' }).last().click();
    await page
      .getByRole('heading', { name: /^✓ 1 item of .* is in the archive$/ })
      .waitFor({ timeout: 30_000 });
    await expectAccessible(page, 'a disposal to the archive');
    await page.goto(`${desk.origin}/retention/schedule`);
    await page.getByText('All of them, by when they are due').click();
    await button('Say whether Old plans stands').press('Enter');
    await button('Put it on record').press('Enter');
    await page.getByText('On record: it stands.').waitFor();
    await page.getByText(/✓ It stands, /).waitFor();
    await expectAccessible(page, 'the yearly review');
  });

  it('makes anonymous what a rule says, and puts it back', async () => {
    const letter = join(desk.folder, 'estate', 'yard', 'Letters', 'ramp.txt');
    await begin('Old letters', 'Yard share/Letters', 'make anonymous');
    await button('Put it in force').press('Enter');
    await page.getByText('Version 1 in force').waitFor();
    await expect
      .poll(() => readFileSync(letter, 'utf8'), { timeout: 90_000, interval: 1000 })
      .toBe('The ramp is bent. Write to [email] about it.');
    await page.goto(`${desk.origin}/retention/disposals`);
    await page.getByRole('link', { name: 'Old letters' }).last().click();
    await page.getByRole('heading', { name: /^✓ 1 item of .* is anonymous$/ }).waitFor({ timeout: 30_000 });
    await page.getByText('anonymous, can be put back').waitFor();
    await expectAccessible(page, 'a disposal that made anonymous');
    await button('Put 1 back').press('Enter');
    await page.getByText('1 item is back.').waitFor();
    expect(readFileSync(letter, 'utf8')).toBe(LETTER);
  });
});
