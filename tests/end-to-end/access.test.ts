import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { USUAL_SOURCE } from '../../src/core/holdings/sources/source.ts';
import { USUAL_SURVEY } from '../../src/core/holdings/surveys/survey.ts';
import { staffLink } from '../../src/server/accounts/staff/staff-link.ts';
import { writeStaff } from '../../src/server/accounts/staff/staff.ts';
import { grant, peopleBook, place, RightsServer, TOKEN } from '../rights-server.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';

const CREW = Array.from({ length: 24 }, (_, i) => `hand${i}`);
const server = new RightsServer();
let desk: RunningDesk;
let page: Page;

beforeAll(async () => {
  await server.start();
  server.people(
    peopleBook(['tove', 'karl', 'amira', ...CREW], {
      port: ['tove', 'karl', 'amira'],
      staff: ['port', ...CREW],
    }),
  );
  server.rights([
    place('Port share', { owner: 'tove', source: 'Port share' }),
    place('Port share/July', { inherits: false, source: 'Port share' }),
    grant('Port share', 'port', 'change'),
    grant('Port share', 'karl', 'give'),
    grant('Port share/July', 'port', 'change'),
    grant('Port share/July', 'staff', 'read', { at: '2026-07-04T09:13:00Z' }),
    { type: 'use', person: 'tove', place: 'Port share/July', day: new Date().toISOString().slice(0, 10) },
  ]);
  desk = await startDesk(server.port);
  const root = join(desk.folder, 'estate', 'port');
  mkdirSync(join(root, 'July'), { recursive: true });
  for (const n of [1, 2, 3])
    writeFileSync(join(root, 'July', `list${n}.txt`), `Passenger kim${n}@ferry.example\nBSN: 111222333\n`);
  await desk.store.transaction((tx) =>
    writeStaff(tx, new Date(), null, {
      members: [
        { address: 'tove@line.example', name: 'Tove Lindqvist', unit: 'Port', groups: [], left: null },
        { address: 'karl@line.example', name: 'Karl Wede', unit: 'Port', groups: [], left: '2026-09-30' },
      ],
      groups: [],
    }),
  );
  page = await desk.signedIn();
  page.setDefaultTimeout(20_000);
  await ask('/api/holdings/sources', {
    content: { ...USUAL_SOURCE, name: 'Port share' },
    address: { kind: 'folder', root },
  });
  const { id } = await ask<{ id: number }>('/api/holdings/surveys', {
    ...USUAL_SURVEY,
    name: 'All',
    sources: ['1'],
  });
  await ask(`/api/holdings/surveys/${id}/estimate`, {});
  await page.goto(`${desk.origin}/holdings/surveys/${id}`);
  await page.getByRole('button', { name: /^Start/ }).click({ timeout: 60_000 });
  const source = (name: string, kind: string, what: 'people' | 'rights', holds: unknown) =>
    ask('/api/access/sources', {
      content: { name, everyHours: 24, writes: true, opens: '', holds },
      address: { kind, url: server.url(what).replace('127.0.0.1', 'localhost') },
      secret: TOKEN,
    });
  await source('Directory', 'scim', 'people', []);
  await source('Library', 'library', 'rights', [{ name: 'Port share', source: 1 }]);
}, 240_000);
afterAll(async () => {
  await desk?.stop();
  await server.stop();
});

async function ask<T = unknown>(path: string, data: unknown): Promise<T> {
  const answer = await page.request.post(`${desk.origin}${path}`, { headers: { origin: desk.origin }, data });
  expect(answer.ok(), `${path}: ${await answer.text()}`).toBe(true);
  return (await answer.json()) as T;
}

const button = (name: string | RegExp) => page.getByRole('button', { name });
const heading = (name: string | RegExp) => page.getByRole('heading', { name });
const soundings = () => page.getByRole('complementary', { name: 'Soundings' });
const holdsGrant = (to: string) => server.book?.lines.some((l) => l.type === 'grant' && l.to === to) ?? false;

async function doIt(): Promise<void> {
  await page.getByRole('region', { name: 'What it would do' }).waitFor();
  await button('Do it').press('Enter');
  await page
    .getByText(/✓ done · \d+ step/)
    .first()
    .waitFor();
}

describe('a place that is open to too many, by keyboard alone', () => {
  it('stands on Today, and leads to who reaches it and why', async () => {
    await page.goto(`${desk.origin}/today`);
    const told = page.getByText(/July is open to 27 people/);
    await expect
      .poll(
        async () => {
          await page.reload();
          await page.waitForTimeout(1500);
          return told.count();
        },
        { timeout: 120_000 },
      )
      .toBeGreaterThan(0);
    await page
      .getByRole('link', { name: /July is open to 27 people/ })
      .first()
      .press('Enter');
    await heading('July').first().waitFor();
    await page.getByRole('tab', { name: 'Who reaches it 27' }).waitFor();
    await soundings().getByText('27').first().waitFor();
    await soundings()
      .getByText(/people in it|with sensitive data/)
      .first()
      .waitFor();
    await page.getByRole('searchbox', { name: 'Filter people' }).fill('hand7');
    const row = page.getByRole('row', { name: 'HAND7, read' });
    await row.press('Enter');
    await soundings().getByRole('heading', { name: 'HAND7 reaches it because' }).waitFor();
    for (const step of ['Group staff', 'which is granted', 'read'])
      await soundings().getByText(step, { exact: true }).first().waitFor();
    await expectAccessible(page, 'a place');
    await page.getByRole('tab', { name: /^Grants/ }).press('Enter');
    await page.getByRole('checkbox', { name: 'Choose Group staff, read' }).waitFor();
    await expectAccessible(page, 'the grants of a place');
    await page.getByRole('tab', { name: /^Who reaches it/ }).press('Enter');
  });

  it('is narrowed by a change that is rehearsed, done, and taken back', async () => {
    const strip = page.getByRole('region', { name: 'If Group staff were taken away here' });
    await strip.getByText('−24').waitFor();
    await strip.getByRole('button', { name: 'Rehearse this change' }).press('Enter');
    await heading('Take Group staff away at July').waitFor();
    await page.getByText('takes Group staff, read, away at July').waitFor();
    await expectAccessible(page, 'a rehearsed change');
    expect(holdsGrant('staff')).toBe(true);
    await doIt();
    expect(holdsGrant('staff')).toBe(false);
    await page.goto(`${desk.origin}/access/places`);
    await page.getByRole('searchbox', { name: 'Find a place' }).fill('jul');
    await page.getByRole('link', { name: /^July/ }).press('Enter');
    await page.getByRole('tab', { name: 'Who reaches it 3' }).waitFor();
    await page.goto(`${desk.origin}/access/changes/1`);
    await button('Take it back').press('Enter');
    await heading('Undo: Take Group staff away at July').waitFor();
    await doIt();
    expect(holdsGrant('staff')).toBe(true);
    await page.goto(`${desk.origin}/access/changes`);
    await page
      .getByRole('row', { name: /given: Group staff, read at July/ })
      .first()
      .waitFor();
    await expectAccessible(page, 'what was given and taken away');
  });
});

describe('a leaver', () => {
  it('is found, cleared everywhere, and gone from each source', async () => {
    await page.goto(`${desk.origin}/access/people?kind=leaver`);
    await page.getByRole('link', { name: /KARL/ }).press('Enter');
    await page.getByText('Their work ended on 30 Sep 2026, and the account is still open.').waitFor();
    await page.getByRole('tab', { name: 'As they see it' }).press('Enter');
    await page.getByRole('treeitem', { name: /Port share.*give/ }).waitFor();
    await expectAccessible(page, 'a person');
    await button('Clear everywhere').press('Enter');
    await page.getByText('closes the account of KARL').waitFor();
    await doIt();
    expect(holdsGrant('karl')).toBe(false);
    await page.goto(`${desk.origin}/access/people?kind=leaver`);
    await page.getByText('Nobody is called so.').waitFor();
  });
});

describe('a review', () => {
  it('asks the owner, who answers without an account, and the rest is answered here', async () => {
    await page.goto(`${desk.origin}/access/places`);
    await page.getByRole('treeitem', { name: /Port share/ }).click();
    await button('Start a review').press('Enter');
    await page.getByRole('textbox', { name: 'What it is called' }).fill('Port, winter');
    await page.keyboard.press('Enter');
    await heading(/^Port, winter: 3 lines wait for an answer/).waitFor();
    await expectAccessible(page, 'a review');
    const link = staffLink(
      { settings: { WEB_ORIGIN: desk.origin, SECRET_KEY: 'cd'.repeat(32) }, now: () => new Date() } as never,
      'who-may-keep',
      1,
    );
    const other = await desk.browser.newContext({ javaScriptEnabled: false });
    const owner = await other.newPage();
    await owner.goto(link);
    await owner.getByRole('button', { name: 'Take Group staff away at July' }).click();
    await owner.getByText('One line is to go.').waitFor();
    await other.close();
    await page.getByRole('checkbox', { name: 'Select all that are loaded' }).press('Space');
    await button('Keep them').press('Enter');
    await heading('✓ Port, winter: all is answered').waitFor();
    await button('End it').press('Enter');
    await heading('What Port, winter takes away').waitFor();
    await page.getByText('takes Group staff, read, away at July').waitFor();
  });

  it('is read, and nothing is offered, by who only looks', async () => {
    const auditor = await desk.signedIn('auditor');
    await auditor.goto(`${desk.origin}/access/reviews/1`);
    await auditor.getByRole('heading', { name: /Port, winter/ }).waitFor();
    expect(await auditor.getByRole('button', { name: /^(End it|Keep them)/ }).count()).toBe(0);
    const refused = await auditor.request.post(`${desk.origin}/api/access/changes/3/begin`, {
      headers: { origin: desk.origin },
      data: {},
    });
    expect(refused.status()).toBe(403);
    await auditor.context().close();
  });
});
