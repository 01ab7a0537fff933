import { readFileSync } from 'node:fs';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readSheets, writeSheets, type SheetText } from '../../src/server/files/workbook-sheets.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;

beforeAll(async () => {
  desk = await startDesk();
  page = await desk.signedIn();
});
afterAll(async () => {
  await desk?.stop();
});

const readiness = async () => Number(await page.getByLabel('Readiness', { exact: true }).textContent());

describe('an assessment', () => {
  it('is read in the library, started by keyboard, and tells before what it comes to', async () => {
    await page.goto(`${desk.origin}/obligations`);
    await page.getByText('Nothing is assessed yet').waitFor();
    await expectAccessible(page, 'no assessment');
    await page.goto(`${desk.origin}/obligations/library/baseline`);
    await page.getByText('It would begin at').first().waitFor();
    await page.getByLabel('Search in it').fill('leavers');
    await page.getByText('Leavers reach nothing').click();
    await page.getByText('On the last day.').waitFor();
    await expectAccessible(page, 'a framework');
    await page.getByRole('button', { name: 'Start an assessment' }).press('Enter');
    await page.getByLabel('What the cycle is called').fill('group, 2026');
    await page
      .getByRole('dialog')
      .getByText(/^It would begin at 0 of 100/)
      .waitFor();
    await expectAccessible(page, 'starting an assessment');
    await page.getByRole('button', { name: 'Start it' }).press('Enter');
    await page.getByRole('heading', { name: 'Short baseline' }).waitFor();
    expect(await readiness()).toBe(0);
    await expectAccessible(page, 'an assessment');
  });

  it('rises once somebody does what gains most, and somebody else tested it', async () => {
    // The first of those that a person tests.
    const first = page.getByRole('row').filter({ hasText: 'a person, once it is done' }).first();
    const name = (await first.getByRole('link').textContent()) ?? '';
    await first.getByRole('button', { name: `Take on “${name}”` }).press('Enter');
    await page.getByText(`“${name}” is yours.`).waitFor();
    await page.getByRole('link', { name, exact: true }).first().click();
    await page.getByRole('button', { name: 'State: in work' }).press('Enter');
    await page.getByRole('option', { name: 'done' }).click();
    await page.getByText('(you did it: somebody else tests it)').waitFor();
    await expectAccessible(page, 'a measure');

    const other = await desk.signedIn('site manager');
    await other.goto(page.url());
    await other.getByRole('button', { name: /^What the test said/ }).press('Enter');
    await other.getByRole('option', { name: 'passed' }).click();
    await other.getByText('✓ passed, by a person').waitFor();
    await other.context().close();

    await page.getByText('✓ passed, by a person').waitFor({ timeout: 20_000 });
    await page.getByRole('link', { name: 'Short baseline' }).first().click();
    await expect.poll(readiness, { timeout: 20_000 }).toBeGreaterThan(0);
  });

  it('falls where the program sees that something broke, and says so on Today', async () => {
    const count = (value: number) =>
      desk.store.run(
        'REPLACE INTO figure_value (figure, day, value, out_of, counted_at) VALUES (?, UTC_DATE(), ?, 14, UTC_TIMESTAMP(3))',
        ['holdings.systems-without-steward', value],
      );
    await count(0);
    const before = await readiness();
    await expect.poll(readiness, { timeout: 60_000 }).toBeGreaterThan(before);
    await count(2);
    await expect.poll(readiness, { timeout: 60_000 }).toBe(before);
    await page.getByText('Fails now').waitFor();
    await page.goto(`${desk.origin}/today`);
    await page.getByText('Name a steward for every system: its test fails').first().waitFor();
    await page.goto(`${desk.origin}/obligations/measures?show=failed`);
    await page.getByText('◆ 1 measure due or failing').waitFor();
    await expectAccessible(page, 'what fails');
  });

  it('leaves out a control with its reason, and hands out its proof', async () => {
    await page.goto(`${desk.origin}/obligations/assessments/1?tab=controls`);
    await page.getByText('Transfers are known').click();
    await page
      .getByRole('button', { name: /^Why it does not apply/ })
      .first()
      .press('Enter');
    await page.keyboard.type('Nothing leaves the region.');
    await page.keyboard.press('Control+Enter');
    await page.getByText('does not apply', { exact: true }).waitFor();
    await expectAccessible(page, 'controls');
    const proof = await page.request.get(`${desk.origin}/api/obligations/assessments/1/export?as=json`);
    expect(await proof.json()).toMatchObject({
      format: 'yare-assessment-1',
      notApplicable: [{ control: 'know-transfers', reason: 'Nothing leaves the region.' }],
    });
  });
});

describe('a framework of one’s own', () => {
  const asWorkbook = async (sheets: readonly SheetText[]) => ({
    name: 'ours.xlsx',
    mimeType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    buffer: Buffer.from(await writeSheets(sheets)),
  });
  const controlRow = (risk: string) => [
    ...[
      'o-1',
      'ours',
      'Rule 1',
      'Ask twice',
      'required',
      'prevents',
      risk,
      'Ask before and after.',
      'train-staff',
    ],
  ];
  /** The workbook that extends a framework, with a family and a control of its own. */
  const filled = (sheets: readonly SheetText[], risk: string) =>
    sheets.map((s) =>
      s.name === 'Families'
        ? { ...s, rows: [...s.rows, ['ours', 'Ours']] }
        : s.name === 'Controls'
          ? { ...s, rows: [...s.rows, controlRow(risk)] }
          : s,
    );

  it('extends one that ships from a workbook: faults first, beside their cells and in a marked copy, then taken', async () => {
    await page.goto(`${desk.origin}/obligations/library/baseline`);
    await page.getByRole('button', { name: 'Take it out' }).press('Enter');
    const begun = page.waitForEvent('download');
    await page.getByRole('menuitem', { name: 'Extend it: a workbook to fill in' }).press('Enter');
    const sheets = await readSheets(readFileSync(await (await begun).path()));

    await page.goto(`${desk.origin}/obligations/library`);
    await page.getByRole('button', { name: 'Take in a framework …' }).press('Enter');
    const file = page.getByLabel(/^Workbook \(XLSX\)/);
    await file.setInputFiles(await asWorkbook(filled(sheets, 'high')));
    await page.getByText('“high” cannot be taken.').waitFor();
    await expectAccessible(page, 'a framework with faults');
    const saved = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save a copy with every fault marked' }).press('Enter');
    const marked = await readSheets(readFileSync(await (await saved).path()));
    expect(marked.find((s) => s.name === 'Controls')?.rows[1]?.[6]).toBe('high');

    await file.setInputFiles(await asWorkbook(filled(sheets, '5')));
    await page.getByText('Nothing is wrong.').waitFor();
    await page.getByRole('button', { name: 'Take it in' }).press('Enter');
    await page.getByRole('heading', { name: 'Short baseline and ours' }).waitFor();
    await page.getByText('Ask twice').waitFor();
    await page.getByText(/^It has all of Short baseline/).waitFor();
    await expectAccessible(page, 'an own framework');
  });

  it('taken in again says what it changes, and can be compared with what is done', async () => {
    const out = await page.request.get(`${desk.origin}/api/obligations/library/our-baseline/export?as=oscal`);
    expect(await out.json()).toHaveProperty('profile');
    const json = await page.request.get(`${desk.origin}/api/obligations/library/our-baseline/export?as=json`);
    const changed = (await json.text()).replace('Ask before and after.', 'Ask before, and once more after.');
    await page.goto(`${desk.origin}/obligations/library?new=framework`);
    await page
      .getByLabel(/^Workbook \(XLSX\)/)
      .setInputFiles({ name: 'ours.json', mimeType: 'application/json', buffer: Buffer.from(changed) });
    await page.getByText('◇ changed: Rule 1 Ask twice').waitFor();
    await page.getByRole('button', { name: 'Take it in' }).press('Enter');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await page.getByText('Ask before, and once more after.').waitFor({ state: 'attached' });
    const asked = page.locator('details', { hasText: 'Ask twice' });
    await asked.locator('summary').press('Enter');
    await asked.getByText('Ask before, and once more after.').waitFor();
    await page.getByRole('button', { name: /^Compare with/ }).press('Enter');
    await page.getByRole('option', { name: 'Short baseline', exact: true }).click();
    await page.getByRole('button', { name: /^✓ Covered 2\d/ }).waitFor();
    await expectAccessible(page, 'two frameworks beside each other');
  });
});

describe('the proof', () => {
  it('is handed out to be read, worked with and counted, with its sealed head', async () => {
    const url = `${desk.origin}/api/obligations/assessments/1/export`;
    const pdf = await page.request.get(`${url}?as=pdf`);
    expect((await pdf.body()).subarray(0, 5).toString()).toBe('%PDF-');
    const results = (await (await page.request.get(`${url}?as=oscal`)).json()) as object;
    expect(results).toHaveProperty('assessment-results');
    const book = await readSheets(await (await page.request.get(`${url}?as=xlsx`)).body());
    expect(book.find((s) => s.name === 'Left out')?.rows[1]?.[1]).toBe('Nothing leaves the region.');
  });

  it('is of a cycle that goes on in the next one', async () => {
    await page.goto(`${desk.origin}/obligations`);
    await page.getByRole('button', { name: 'Acts for group, 2026' }).press('Enter');
    await page.getByRole('menuitem', { name: 'Begin the next cycle …' }).press('Enter');
    await expectAccessible(page, 'the next cycle');
    await page.getByRole('button', { name: 'Begin it' }).press('Enter');
    await page.getByRole('heading', { name: 'group, 2027', exact: true }).waitFor();
    await expectAccessible(page, 'assessments of two cycles');
  });
});
