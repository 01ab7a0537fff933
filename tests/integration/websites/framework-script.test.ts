import type { Page } from 'playwright-core';
import { describe, expect, it } from 'vitest';
import { MADE_UP_LIST } from '../../../src/core/websites/tcf/made-up-list.ts';
import { readTc, tcJudge } from '../../../src/core/websites/tcf/tc-string.ts';
import { firstTcf } from '../../../src/core/websites/tcf/tcf-settings.ts';
import { browseGround } from './ground-browser.ts';
import { ScriptGround } from './script-ground.ts';

const script = new ScriptGround();
let page: Page;
const ASKED = ['preferences', 'measurement', 'advertising'];
const TCF = {
  ...firstTcf(Object.keys(MADE_UP_LIST.vendors).map(Number), ASKED),
  cmpId: 300,
  restrictions: { '10': 'never' as const },
};

/** What tags hear, from the first moment on. */
const EAR = `<script>window.heard = [];
__tcfapi('ping', 2, (p) => (window.first = p));
__tcfapi('addEventListener', 2, (data, ok) => window.heard.push({ ...data, ok }));</script>`;

interface Heard {
  readonly eventStatus: string;
  readonly tcString: string;
  readonly gdprApplies: boolean;
  readonly ok: boolean;
  readonly purpose?: { readonly consents: Readonly<Record<string, boolean>> };
  readonly vendor?: { readonly consents: Readonly<Record<string, boolean>> };
}
const heard = (of = page) => of.evaluate(() => (window as unknown as { heard: Heard[] }).heard);
const last = async () => (await heard()).at(-1);

browseGround(
  script,
  () => {
    Object.assign(script, { pages: { '/': EAR }, vendors: MADE_UP_LIST, nonce: '', headers: {} });
    script.settings = { tcf: { ...TCF, applies: true } };
    script.choices.length = 0;
  },
  (opened) => ({ page } = opened),
);

const notice = () => page.locator('yare-notice');
const press = async (choice: string) => {
  await notice().waitFor();
  await notice().locator(`button[data-choice="${choice}"]`).click();
};
const sent = async () => {
  await expect.poll(() => script.choices.length).toBeGreaterThan(0);
  return script.choices.at(-1);
};

describe('a site of the framework', () => {
  it('answers tags from the first moment, tells them of the notice, and of the answer as it was given', async () => {
    await page.goto(script.at('tcf'));
    await notice().waitFor();
    expect(await page.evaluate(() => (window as unknown as { first: object }).first)).toMatchObject({
      ...{ cmpStatus: 'stub', apiVersion: '2.2' },
    });
    await expect.poll(async () => (await last())?.eventStatus).toBe('cmpuishown');
    expect(await last()).toMatchObject({ gdprApplies: true, ok: true });
    await press('accept');
    await expect.poll(async () => (await last())?.eventStatus).toBe('useractioncomplete');
    const end = await last();
    expect(end?.purpose?.consents).toMatchObject({ '1': true, '9': true });
    expect(end?.vendor?.consents).toMatchObject({ '2': true, '5': true });
    const choice = await sent();
    expect(choice?.tc).toBe(end?.tcString);
    const made = { list: MADE_UP_LIST, settings: TCF, asked: ASKED };
    expect(tcJudge(made)(choice?.tc ?? '', ASKED)).toEqual([]);
    // On the next page it stands from the start.
    await page.reload();
    await expect.poll(async () => (await last())?.eventStatus).toBe('tcloaded');
    expect((await last())?.tcString).toBe(choice?.tc);
  });

  it('that is refused tells tags of nothing', async () => {
    await page.goto(script.at('tcf-refuse'));
    await press('refuse');
    const read = readTc((await sent())?.tc ?? '');
    expect(read).toMatchObject({ purposes: [], interests: [], vendors: [], vendorInterests: [] });
    await expect.poll(async () => (await last())?.eventStatus).toBe('useractioncomplete');
  });

  it('lets purposes, interests and vendors be chosen one by one in the second layer, by keyboard', async () => {
    await page.goto(script.at('tcf-choose'));
    await notice().waitFor();
    await notice().locator('summary', { hasText: 'Choose purposes' }).press('Enter');
    expect(await notice().locator('input:checked:not([disabled])').count()).toBe(0);
    await notice().locator('input[value="measurement"]').press('Space');
    const inside = notice().locator('details.uses', { hasText: 'Measure content performance' }).first();
    await inside.locator('summary').first().press('Enter');
    const box = (text: string) => notice().locator('label', { hasText: text }).locator('input').first();
    expect(await box('Measure content performance').isChecked()).toBe(true);
    // One of them is taken out again, and an interest is left to stand.
    await box('Understand audiences').press('Space');
    await box('Measure content performance: legitimate interest').press('Space');
    await notice()
      .locator('summary', { hasText: /^Partners \(6\)/ })
      .press('Enter');
    await box('Lanternfish Ads').press('Space');
    await box('Kelpline Measurement: legitimate interest').press('Space');
    await notice().locator('text=Cookies for 180 days').first().waitFor();
    await press('save');
    const choice = await sent();
    expect(choice?.allowed).toEqual(['measurement']);
    expect(readTc(choice?.tc ?? '')).toMatchObject({
      ...{ purposes: [8, 10], interests: [8], vendorInterests: [34] },
      // Ticked with the purpose, but for the one that was taken out.
      vendors: [5, 8, 13, 21],
      restrictions: [{ purpose: 10, type: 0 }],
    });
    expect(
      tcJudge({ list: MADE_UP_LIST, settings: TCF, asked: ASKED })(choice?.tc ?? '', ['measurement']),
    ).toEqual([]);
  });

  it('tells tags elsewhere that it does not apply there', async () => {
    script.settings = { tcf: { ...TCF, applies: false }, region: 'US-CA' };
    await page.goto(script.at('tcf-elsewhere'));
    await expect.poll(async () => (await last())?.gdprApplies).toBe(false);
    await press('accept');
    expect((await sent())?.tc ?? '').toBe('');
  });

  it('is found by frames of others, which ask by message', async () => {
    await page.goto(script.at('tcf-frame'));
    await press('accept');
    await sent();
    const answer = await page.evaluate(
      () =>
        new Promise((done) => {
          const frame = document.createElement('iframe');
          frame.srcdoc = `<script>
            addEventListener('message', (e) => e.data.__tcfapiReturn && parent.postMessage({ got: e.data.__tcfapiReturn }, '*'));
            parent.postMessage({ __tcfapiCall: { command: 'ping', version: 2, callId: 'x1' } }, '*');
          </script>`;
          addEventListener('message', (e: MessageEvent<{ got?: unknown }>) => e.data.got && done(e.data.got));
          document.body.append(frame);
        }),
    );
    expect(answer).toMatchObject({ callId: 'x1', success: true, returnValue: { cmpLoaded: true } });
    expect(await page.evaluate(() => '__tcfapiLocator' in window.frames)).toBe(true);
  });

  it('works on without the vendor list: the site’s own purposes are asked, and tags get no string', async () => {
    script.vendors = undefined;
    await page.goto(script.at('tcf-without'));
    await press('accept');
    const choice = await sent();
    expect(choice?.allowed).toEqual(ASKED);
    expect(choice?.tc ?? '').toBe('');
  });
});

describe('what is allowed on the spot', () => {
  const held = '<iframe data-yare-purpose="advertising" data-yare-src="//T/map" title="Map"></iframe>';

  it('is added to what was chosen before, which stands', async () => {
    script.pages = { '/': EAR + held };
    await page.goto(script.at('tcf-spot'));
    await notice().waitFor();
    await notice().locator('summary', { hasText: 'Choose purposes' }).press('Enter');
    await notice().locator('input[value="measurement"]').press('Space');
    const inside = notice().locator('details.uses', { hasText: 'Measure content performance' }).first();
    await inside.locator('summary').first().press('Enter');
    await notice()
      .locator('label', { hasText: 'Understand audiences' })
      .locator('input')
      .first()
      .press('Space');
    await press('save');
    expect(readTc((await sent())?.tc ?? '')?.purposes).toEqual([8, 10]);
    await page.locator('yare-held button').click();
    await expect.poll(() => script.choices.length).toBe(2);
    const choice = script.choices.at(-1);
    expect(choice?.allowed).toEqual(['measurement', 'advertising']);
    expect(readTc(choice?.tc ?? '')?.purposes).toEqual([1, 2, 3, 4, 7, 8, 10]);
  });

  it('leaves tags without a string where the vendors cannot be had', async () => {
    script.pages = { '/': EAR + held };
    await page.goto(script.at('tcf-spot-without'));
    await press('accept');
    await sent();
    script.vendors = undefined;
    await page.reload();
    await page.evaluate(() => window.yare?.open());
    await press('refuse');
    // It may be sent again by the page that starts anew.
    await expect.poll(() => script.choices.at(-1)?.allowed).toEqual([]);
    expect(script.choices.at(-1)?.tc ?? '').toBe('');
    await expect.poll(() => page.evaluate(() => document.cookie)).not.toMatch(/yare_tc=\w/);
  });
});
