import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NEW_ACTIVITY } from '../../src/core/holdings/records/activity.ts';
import { makeVendorLink } from '../../src/server/cases/vendors/vendor-link.ts';
import { addActivity } from '../../src/server/holdings/records/activities.ts';
import { CONTRACT } from '../../demo/cases/contract-text.ts';
import { MODELS } from '../../standins/models/made-up-models.ts';
import { cardOf } from '../../standins/models/model-catalogue.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;
beforeAll(async () => {
  desk = await startDesk();
  page = await desk.signedIn();
  await desk.store.transaction((tx) =>
    addActivity(tx, new Date(), null, {
      ...NEW_ACTIVITY,
      ...{ name: 'Crew certificates', people: ['crew'], data: ['person-name', 'health-condition'] },
      retention: '3 years',
    }),
  );
});
afterAll(() => desk?.stop());

const button = (name: string | RegExp) => page.getByRole('button', { name, exact: true });

describe('an impact assessment', () => {
  it('is begun with a key, linked, and told to be needed with the rule that says so', async () => {
    await page.goto(`${desk.origin}/cases/impact`);
    await page.getByText('None yet').first().waitFor();
    await page.keyboard.press('n');
    await page.getByLabel('What it is called').fill('<b>Fit</b> for duty');
    await page.keyboard.press('Enter');
    await button('Name: <b>Fit</b> for duty').waitFor();
    await button(/^Activities: /).press('Enter');
    await page
      .getByRole('option', { name: 'Crew certificates' })
      .or(page.getByLabel('Crew certificates'))
      .first()
      .click();
    await page.keyboard.press('Escape');
    await page.getByText(/^needed: WP 248/).waitFor();
    await expectAccessible(page, 'an assessment');
  });

  it('has its risks taken in as they are proposed, and weighed with what is done about them', async () => {
    await button('Take it in').first().press('Enter');
    await button(/^Somebody reads what is not meant/).press('Enter');
    await button('Add a measure').press('Enter');
    await page.getByRole('textbox', { name: 'What is done' }).fill('The app tells yes or no alone');
    await page.getByLabel('Less grave by').selectOption('3');
    await page.getByLabel('It is done').check();
    await expectAccessible(page, 'a risk');
    await button('Keep it: high, then low').press('Enter');
    const risks = page.getByRole('table', { name: 'Risks to people' });
    await risks.getByText('The app tells yes or no alone').waitFor();
  });

  it('is decided; its next step is named until all is written', async () => {
    await button('It is needed').press('Enter');
    await page.getByRole('dialog').getByRole('button', { name: 'It is needed' }).press('Enter');
    await page
      .getByText(/say what is done, Art/)
      .first()
      .waitFor();
    const pdf = await page.request.get(`${desk.origin}/api/cases/impact/1/pdf`);
    expect(pdf.headers()['content-type']).toBe('application/pdf');
  });
});

describe('a vendor', () => {
  it('answers by its link without an account or script, in part and then whole', async () => {
    await page.goto(`${desk.origin}/cases/vendors?new=vendors`);
    await page.getByLabel('What it is called').fill('Seatable ApS');
    await page.keyboard.press('Enter');
    await button('Name: Seatable ApS').waitFor();
    await button(/^Contact: /).press('Enter');
    await page.getByRole('textbox', { name: 'Contact' }).fill('dpo@seatable.example');
    await page.keyboard.press('Enter');
    await page.getByText('Saved.').first().waitFor();
    await button('Send the questions').press('Enter');
    await page.getByRole('dialog').getByRole('button', { name: 'Send them' }).press('Enter');
    await page.getByText(/0 of 8 answered; asked of dpo@seatable.example/).waitFor();
    const end = new Date(Date.now() + 86_400_000);
    const token = await desk.store.transaction((tx) => makeVendorLink(tx, 1, end));
    const context = await desk.browser.newContext({ javaScriptEnabled: false });
    const vendor = await context.newPage();
    await vendor.goto(`${desk.origin}/vendor/${token}`);
    const groups = vendor.getByRole('group');
    expect(await groups.count()).toBe(8);
    await groups.nth(0).getByLabel('partly').check();
    await vendor.getByRole('button', { name: 'Send the answers' }).click();
    await vendor
      .getByRole('alert')
      .getByText(/kept, and not sent: 8/)
      .waitFor();
    expect(await groups.nth(0).getByLabel('partly').isChecked()).toBe(true);
    const policy = { name: 'policy.pdf', mimeType: 'application/pdf', buffer: Buffer.from('%PDF-1.7') };
    await groups.nth(0).getByLabel('A file that shows it').setInputFiles(policy);
    await vendor.getByRole('button', { name: 'Keep it for now' }).click();
    await vendor.getByText('✓ policy.pdf').waitFor();
    await groups.nth(0).getByLabel('How it is').fill('From June on');
    for (let n = 1; n < 8; n++) await groups.nth(n).getByLabel('yes').check();
    await vendor.getByRole('button', { name: 'Send the answers' }).click();
    await vendor
      .getByRole('status')
      .getByText(/were sent/)
      .waitFor();
    expect((await vendor.goto(`${desk.origin}/vendor/${'x'.repeat(43)}`))?.status()).toBe(404);
    await context.close();
    await page.reload();
    await page.getByText(/% of what was asked is so, 1 gap/).waitFor();
    await expectAccessible(page, 'a vendor');
  });

  it('is shown its questions on a page that everybody can use', async () => {
    await button('Ask again').press('Enter');
    await page.getByRole('dialog').getByRole('button', { name: 'Send them' }).press('Enter');
    await page.getByText(/8 of 8 answered; asked of/).waitFor();
    const end = new Date(Date.now() + 86_400_000);
    const token = await desk.store.transaction((tx) => makeVendorLink(tx, 1, end));
    const own = await desk.browser.newContext();
    const seen = await own.newPage();
    await seen.goto(`${desk.origin}/vendor/${token}`);
    await expectAccessible(seen, 'the vendor’s page');
    await seen.getByRole('button', { name: 'Send the answers' }).press('Enter');
    await seen
      .getByRole('status')
      .getByText(/were sent/)
      .waitFor();
    await own.close();
  });

  it('has its contract read, and each clause proposed with the passage that it was found in', async () => {
    const agreement = { name: 'agreement.txt', mimeType: 'text/plain', buffer: Buffer.from(CONTRACT) };
    await page.getByLabel('Read a contract').setInputFiles(agreement);
    const clauses = page.getByRole('table', { name: 'Clauses' });
    await clauses
      .getByText(/proposed: there/)
      .first()
      .waitFor({ timeout: 60_000 });
    const audit = clauses.getByRole('row').filter({ hasText: 'Art. 28(3)(h)' });
    expect(await audit.getByText('proposed: there').count()).toBe(0);
    const last = clauses.getByRole('row').filter({ hasText: 'Art. 28(3)(g)' });
    await last.getByText(/proposed: there/).click();
    await last
      .getByText(/deletes or returns all personal data/)
      .first()
      .waitFor();
    await last.getByRole('button', { name: 'There' }).press('Enter');
    await last
      .getByText(/there: “/)
      .last()
      .waitFor();
  });
});

describe('an AI system', () => {
  it('is taken in from its card, and classed question by question', async () => {
    const model = MODELS.find((m) => m.id === 'plate-reader');
    await page.goto(`${desk.origin}/cases/ai?new=ai`);
    await page.getByLabel('Its card').fill('no card');
    await button('Begin it').press('Enter');
    await page.getByText(/begins with a line of three hyphens/).waitFor();
    await page.getByLabel('Its card').fill(model ? cardOf(model) : '');
    await button('Begin it').press('Enter');
    await button('Name: plate-reader').waitFor();
    await page.getByText('Read from a CycloneDX list of parts.').waitFor();
    const next = page.getByRole('group', { name: 'The next question' });
    await next.getByText(/Does it infer/).waitFor();
    await next.getByRole('button', { name: 'Yes' }).press('Enter');
    await next.getByText(/scientific research/).waitFor();
    await page.getByText('All questions').first().click();
    await page.getByLabel(/infer emotions at work/).selectOption('yes');
    await page.getByText('◆ prohibited').first().waitFor();
    await page.getByLabel(/infer emotions at work/).selectOption('no');
    await next.waitFor();
    await expectAccessible(page, 'an AI system');
    await button('Move it on').press('Enter');
    await page.getByLabel('It is now').selectOption('used');
    await page.getByRole('dialog').getByRole('button', { name: 'It is in use' }).press('Enter');
    await page.getByText(/Answer first what its class is/).waitFor();
    await page.keyboard.press('Escape');
  });

  it('is found by its name, and shows nothing to do to who only reads', async () => {
    const auditor = await desk.signedIn('auditor');
    await auditor.goto(`${desk.origin}/cases/ai/1`);
    await auditor.getByText('plate-reader').first().waitFor();
    const acts = auditor.getByRole('button', { name: /^(?:Move it on|Note|Add a risk|Yes)$/ });
    expect(await acts.count()).toBe(0);
    await auditor.keyboard.press('Control+k');
    await auditor.keyboard.type('plate-re');
    await auditor.getByText('AI-1, plate-reader').first().waitFor();
    await auditor.context().close();
  });
});
