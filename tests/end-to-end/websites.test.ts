import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { run } from '../../launcher/run.ts';
import { expectAccessible, startDesk, type RunningDesk } from './desk.ts';
import { OwnSite } from './own-site.ts';

const site = new OwnSite();
let desk: RunningDesk;
let page: Page;

beforeAll(async () => {
  await site.start();
  desk = await startDesk(site.port);
  page = await desk.signedIn();
});
afterAll(async () => {
  site.stop();
  await desk?.stop();
});

const row = (name: string) =>
  page.getByRole('row', { name: new RegExp(`^${name.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&')}, `) });
const verdicts = (name: string) =>
  row(name)
    .getByRole('img')
    .evaluateAll((marks) => marks.map((m) => m.getAttribute('aria-label')));

/** Before a choice and with GPC: without a notice no other visitor can be tried. */
const TWICE_LEAKED = ['seen without permission', 'seen without permission'];
const TWICE_ALLOWED = ['seen, allowed', 'seen, allowed'];

async function sweep(name: string): Promise<void> {
  await page.getByRole('button', { name }).click();
  await page
    .getByRole('progressbar', { name: /Sweep of/ })
    .first()
    .waitFor();
  await page.getByText('is done.').waitFor({ timeout: 120_000 });
}

describe('from an unknown website to a choice on record', () => {
  it('refuses addresses that will not do, naming the field and what would', async () => {
    await page.goto(`${desk.origin}/websites`);
    await page.getByText('No website is in the program yet').waitFor();
    await expectAccessible(page, 'empty register');
    await page.keyboard.press('n');
    const address = page.getByLabel('Address');
    for (const [typed, says] of [
      ['not an address', 'This is not the address of a website'],
      ['http://127.0.0.1:1/', 'on this machine|private address'],
      [`hostile.localhost:${site.port}/circle`, 'redirects in a circle'],
      [`hostile.localhost:${site.port}/download`, 'not a web page'],
    ] as const) {
      await address.fill(typed);
      await page.keyboard.press('Enter');
      await page.getByText(new RegExp(says)).waitFor();
      expect(await address.getAttribute('aria-invalid')).toBe('true');
      expect(await address.inputValue()).toBe(typed);
    }
    await expectAccessible(page, 'refused address');
    await address.fill(site.host);
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: site.host }).waitFor();
    expect(new URL(page.url()).pathname).toBe(`/websites/${encodeURIComponent(site.host)}`);
  });

  it('sweeps it: what runs, who put it there, what may not', async () => {
    await page.getByText('Nobody knows yet what runs here').waitFor();
    await sweep('Sweep this site');
    await expect.poll(() => verdicts('tally_visitor')).toEqual(TWICE_LEAKED);
    await expect.poll(() => verdicts('/hit.gif')).toEqual(TWICE_LEAKED);
    await expect.poll(() => verdicts('harbour_session')).toEqual(TWICE_ALLOWED);
    await page.getByText('No notice was found to answer').waitFor();
    await row('tally_visitor').press('Enter');
    const soundings = page.getByRole('complementary', { name: 'Soundings' });
    await soundings.getByText('Directive 2002/58/EC, art. 5(3)').waitFor();
    expect(await soundings.getByRole('listitem').allTextContents()).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/runs the script.*count\.js/),
        expect.stringMatching(/gets the answer of.*hit\.gif/),
      ]),
    );
    await soundings.getByText(/5 pages of 5/).waitFor();
    await expectAccessible(page, 'tracker');
  });

  it('shows hostile names as they are, runs none of them, and exports them as text', async () => {
    await row('+1+1|calc').waitFor();
    await row('<script>alert(1)</script>').waitFor();
    const csv = await (
      await page.request.get(`${desk.origin}/api/websites/${encodeURIComponent(site.host)}/trackers.csv`)
    ).text();
    expect(csv).toContain("'+1+1|calc");
    for (const line of csv.split('\r\n').slice(1)) expect(line).not.toMatch(/^"?[=+@|]/);
    expect(await page.evaluate(() => document.querySelectorAll('td script').length)).toBe(0);
  });

  it('decides purposes one by one and many at once, with undo', async () => {
    await page.goto(`${desk.origin}/websites/${encodeURIComponent(site.host)}`);
    await row('/count.js').getByRole('button').click();
    await page.getByRole('listbox').press('ArrowDown');
    await page.keyboard.press('Escape');
    await row('/count.js').getByRole('button').click();
    await page.getByRole('option', { name: 'Measurement' }).click();
    await page.getByText('Purpose decided.').waitFor();
    await row('tally_visitor').press(' ');
    await row('/hit.gif').press(' ');
    await page.getByText('2 selected').waitFor();
    await page.getByRole('button', { name: 'Measurement', exact: true }).click();
    await page.getByText('Purpose of 2 trackers decided.').waitFor();
    await row('harbour_session').press(' ');
    await page.getByRole('button', { name: 'Advertising', exact: true }).click();
    await page.getByRole('button', { name: /Fix the/ }).waitFor();
    await expect.poll(() => verdicts('harbour_session')).toEqual(TWICE_LEAKED);
    await page.getByRole('button', { name: 'Undo' }).last().click();
    await expect.poll(() => verdicts('harbour_session')).toEqual(TWICE_ALLOWED);
  });

  it('edits the notice by keyboard, previews it, and puts it in force', async () => {
    await page.keyboard.press('2');
    const slot = page.getByRole('button', { name: 'Title: Your choice about this site' });
    await slot.focus();
    await page.keyboard.press('Enter');
    await page.keyboard.press('Control+A');
    await page.keyboard.type('Harbour asks: your choice');
    await page.keyboard.press('Enter');
    const preview = page.frameLocator('iframe[title="Preview of the notice"]');
    await preview.getByRole('heading', { name: 'Harbour asks: your choice' }).waitFor();
    await page.getByRole('button', { name: /Ask again after/ }).click();
    await page.getByRole('textbox', { name: 'Ask again after' }).fill('99');
    await page.getByText('A whole number from 1 to 24.').waitFor();
    await page.getByRole('textbox', { name: 'Ask again after' }).fill('12');
    await page.keyboard.press('Enter');
    await page.getByText(/^Saved/).waitFor();
    await expectAccessible(page, 'notice');
    await page.getByRole('button', { name: 'Rehearse it' }).click();
    await page.getByText('Version 1 rehearsing since today').waitFor();
    expect(await (await fetch(`${desk.visitorOrigin}/${await siteKey()}.js`)).text()).toContain(
      'YARE_SETTINGS=null',
    );
    await page.getByRole('button', { name: 'Put it in force' }).click();
    await page.getByText('Version 1 in force since today').waitFor();
  });

  it('is installed, and a browser says so', async () => {
    await page.keyboard.press('5');
    await page.getByRole('button', { name: 'Check with a browser' }).click();
    await page.getByText('The script is not on the page').waitFor({ timeout: 60_000 });
    site.snippet = (await page.getByLabel('The line for the head').textContent())?.trim() ?? '';
    expect(site.snippet).toMatch(/^<script src="http:\/\/localhost:\d+\/[0-9a-f]{20}\.js"><\/script>$/);
    site.held = true;
    await page.getByRole('button', { name: 'Check again with a browser' }).click();
    await page.getByText('A new visitor sees the notice').waitFor({ timeout: 60_000 });
    await page.getByText(/It is the first of \d scripts?/).waitFor();
    await expectAccessible(page, 'install');
  });

  it('lets a visitor refuse, and then nothing marked runs; change and withdraw at any time', async () => {
    const context = await desk.browser.newContext({ locale: 'da-DK', extraHTTPHeaders: {} });
    await context.route(`${desk.visitorOrigin}/**`, (route) =>
      route.continue({ headers: { ...route.request().headers(), 'x-yare-region': 'SE' } }),
    );
    const visitor = await context.newPage();
    site.reached.length = 0;
    await visitor.goto(`http://${site.host}/`);
    const notice = visitor.getByRole('region', { name: 'Harbour asks: your choice' });
    await notice.waitFor();
    const [refuse, accept] = [
      notice.getByRole('button', { name: 'Refuse all' }),
      notice.getByRole('button', { name: 'Allow all' }),
    ];
    const [a, b] = [(await refuse.boundingBox())!, (await accept.boundingBox())!];
    expect([a.width, a.height, a.y]).toEqual([b.width, b.height, b.y]);
    expect(
      await refuse.evaluate((e) => [getComputedStyle(e).backgroundColor, getComputedStyle(e).fontSize]),
    ).toEqual(
      await accept.evaluate((e) => [getComputedStyle(e).backgroundColor, getComputedStyle(e).fontSize]),
    );
    expect(
      await notice
        .getByRole('checkbox')
        .evaluateAll(
          (boxes) =>
            boxes.filter((x) => (x as HTMLInputElement).checked && !(x as HTMLInputElement).disabled).length,
        ),
    ).toBe(0);
    await expectAccessible(visitor, 'the notice');
    await refuse.focus();
    await Promise.all([
      visitor.waitForResponse((r) => r.url().endsWith('/choices')),
      visitor.keyboard.press('Enter'),
    ]);
    await notice.waitFor({ state: 'detached' });
    for (const path of ['/fish', '/boats', '/'])
      await visitor.goto(`http://${site.host}${path}`, { waitUntil: 'networkidle' });
    expect(site.reached).toEqual([]);
    expect(await notice.count()).toBe(0);

    await visitor.getByRole('button', { name: 'Privacy choice' }).click();
    await notice.getByRole('checkbox', { name: /Measurement/ }).check();
    await Promise.all([
      visitor.waitForResponse((r) => r.url().endsWith('/choices')),
      notice.getByRole('button', { name: 'Save my choice' }).click(),
    ]);
    await expect.poll(() => site.reached).toContain('/hit.gif');
    expect(site.reached).not.toContain('/ads.js');

    await visitor.getByRole('button', { name: 'Privacy choice' }).click();
    await notice.getByText(/№ [0-9a-f-]{36}/).waitFor();
    await Promise.all([
      visitor.waitForEvent('load'),
      notice.getByRole('button', { name: 'Refuse all' }).click(),
    ]);
    site.reached.length = 0;
    await visitor.goto(`http://${site.host}/fish`, { waitUntil: 'networkidle' });
    expect(site.reached).toEqual([]);
    await visitor.goto(`http://${site.host}/contact`);
    await visitor.getByRole('button', { name: 'Privacy choice' }).click();
    const [receipt] = await Promise.all([
      context.waitForEvent('page'),
      notice.getByRole('link', { name: /№/ }).click(),
    ]);
    expect(JSON.parse((await receipt.textContent('body')) ?? '')).toMatchObject({
      receipt: { choice: 'refused all', act: 'withdrawn' },
    });
    await context.close();
  });

  it('has every choice on record, with its receipt and its place in the ledger', async () => {
    await page.keyboard.press('6');
    await page
      .getByRole('row', { name: /^refused all/ })
      .first()
      .waitFor();
    await page.getByText('3 choices').waitFor();
    await page.getByRole('button', { name: /^Every region/ }).click();
    await page.getByRole('option', { name: 'Sweden' }).click();
    await page.getByRole('button', { name: /^Allowed some/ }).click();
    await page.getByText('1 choice match').waitFor();
    await page.getByRole('row', { name: /^allowed some/ }).press('Enter');
    const soundings = page.getByRole('complementary', { name: 'Soundings' });
    await soundings.getByText('The ledger holds this receipt’s digest').waitFor({ timeout: 20_000 });
    await soundings.getByText(/It is entry \d+ of/).waitFor();
    await soundings.getByText('Sweden: ask first.').waitFor();
    await expectAccessible(page, 'consent record');
    const csv = await (
      await page.request.get(`${desk.origin}/api/websites/${encodeURIComponent(site.host)}/consents.csv`)
    ).text();
    expect(csv.trim().split('\r\n')).toHaveLength(4);
    expect(csv).toContain('127.0.0.0');
    expect(csv).not.toContain('127.0.0.1');
    await page.reload();
    await soundings.getByText('The ledger holds this receipt’s digest').waitFor();
  });

  it('loses no choice to a service that is away, a closed tab, a lost answer or a full one, and counts each once', async () => {
    const context = await desk.browser.newContext();
    const notice = (p: Page) => p.getByRole('region', { name: 'Harbour asks: your choice' });
    const recordsOf = async (act: string) => {
      const [cookie] = (await context.cookies()).filter((c) => c.name === 'yare_choice');
      const key = decodeURIComponent(cookie?.value ?? '').split('.')[2];
      const acts = await desk.store.all(
        z.object({ act: z.string() }),
        'SELECT act FROM consent_record WHERE visitor_key = ?',
        [Buffer.from(key ?? '', 'hex')],
      );
      return acts.filter((a) => a.act === act).length;
    };
    const first = await context.newPage();
    await first.goto(`http://${site.host}/`);
    await notice(first).waitFor();
    await desk.processes.end('visitor');
    await notice(first).getByRole('button', { name: 'Allow all' }).click();
    await expect.poll(() => site.reached).toContain('/hit.gif');
    await first.close();
    await desk.startAgain('visitor');

    const second = await context.newPage();
    await second.goto(`http://${site.host}/fish`);
    await expect.poll(() => recordsOf('first'), { timeout: 10_000 }).toBe(1);
    await expect.poll(() => second.evaluate(() => localStorage.getItem('yare_unsent'))).toBeNull();
    expect(await notice(second).count()).toBe(0);
    await second.getByRole('button', { name: 'Privacy choice' }).click();
    await notice(second)
      .getByText(/№ [0-9a-f-]{36}/)
      .waitFor();

    // The first is refused for now, the second arrives and its answer is lost.
    let sent = 0;
    await context.route('**/choices', async (route) => {
      sent++;
      if (sent === 1) return route.fulfill({ status: 429, headers: { 'retry-after': '1' } });
      if (sent === 2) await route.fetch();
      return sent === 2 ? route.abort() : route.continue();
    });
    await Promise.all([
      second.waitForEvent('load'),
      notice(second).getByRole('button', { name: 'Refuse all' }).click(),
    ]);
    await expect
      .poll(() => second.evaluate(() => localStorage.getItem('yare_unsent')), { timeout: 20_000 })
      .toBeNull();
    expect(sent).toBeGreaterThan(2);
    expect(await recordsOf('withdrawn')).toBe(1);
    await second.getByRole('button', { name: 'Privacy choice' }).click();
    await notice(second)
      .getByText(/№ [0-9a-f-]{36}/)
      .waitFor();
    await context.close();
  });

  it('swept again after the fix, the leak is gone and the screen says so', async () => {
    await page.keyboard.press('1');
    await sweep('Sweep again');
    await page.getByText(/○ No leak among the trackers that have a purpose; \d+ have none yet\./).waitFor();
    for (const name of ['+1+1|calc', '<script>alert(1)</script>', 'tally_buffer', '/ads.js', '/adsync.gif'])
      if (await row(name).getByText('not sorted').count()) {
        await row(name).getByRole('button').click();
        await page.getByRole('option', { name: 'Advertising' }).click();
        await expect.poll(() => row(name).getByText('not sorted').count()).toBe(0);
      }
    await page.getByRole('group', { name: 'Show' }).getByText('Not sorted 0').waitFor();
    await page.getByText(/✓ No leak any more: .*tally_visitor \(before choice, with gpc\)/).waitFor();
    const [no, yes] = ['not seen', 'seen, allowed'];
    await expect.poll(() => verdicts('tally_visitor')).toEqual([no, no, yes, yes, no]);
    await expect.poll(() => verdicts('/hit.gif')).toEqual([no, no, yes, yes, no]);
    await expect.poll(() => verdicts('/adsync.gif')).toEqual([no, no, yes, no, no]);
    await expect.poll(() => verdicts('yare_choice')).toEqual([no, yes, yes, yes, no]);
    await page.keyboard.press('9');
    await page.getByText('✓ complete').first().waitFor();
    await page.getByRole('button', { name: /^Most pages/ }).click();
    await page.getByRole('textbox', { name: 'Most pages' }).fill('3');
    await page.keyboard.press('Enter');
    await page.getByText('The next sweep keeps to this.').waitFor();
    await page.getByRole('button', { name: 'Most pages: 3 pages' }).waitFor();
    await page.getByRole('button', { name: 'Undo' }).last().click();
    await page.getByRole('button', { name: 'Most pages: 250 pages' }).waitFor();
    await expectAccessible(page, 'sweeps');
  });

  it('tells the second of two editors, who loses nothing', async () => {
    const other = await desk.signedIn('site manager');
    const path = `${desk.origin}/websites/${encodeURIComponent(site.host)}?tab=notice`;
    await Promise.all([page.goto(path), other.goto(path)]);
    const edit = async (p: Page, label: string, value: string) => {
      await p.getByRole('button', { name: new RegExp(`^${label}:`) }).click();
      await p.getByRole('dialog', { name: label }).getByRole('textbox').fill(value);
      await p.getByRole('button', { name: 'Keep', exact: true }).click();
    };
    await other.getByRole('button', { name: /^Title:/ }).waitFor();
    await page.getByRole('button', { name: /^Title:/ }).waitFor();
    await Promise.all([
      edit(page, 'Allowing button', 'Yes to all'),
      edit(other, 'Refusing button', 'No to all'),
    ]);
    const told = Promise.any(
      [page, other].map((p) =>
        p
          .getByRole('dialog', { name: /saved this notice while you were editing/ })
          .waitFor({ timeout: 15_000 })
          .then(() => p),
      ),
    );
    const second = await told;
    await expectAccessible(second, 'conflict');
    await second.getByRole('button', { name: 'Keep both' }).click();
    for (const p of [page, other]) {
      await p.waitForTimeout(1500);
      await p.reload();
      await p.getByRole('button', { name: 'Allowing button: Yes to all' }).waitFor();
      await p.getByRole('button', { name: 'Refusing button: No to all' }).waitFor();
    }
    await other.context().close();
  });
});

describe('a draft', () => {
  const path = () => `/websites/${encodeURIComponent(site.host)}?tab=notice`;
  const open = async (label: string) => {
    await page.getByRole('button', { name: new RegExp(`^${label}:`) }).click();
    return page.getByRole('dialog', { name: label }).getByRole('textbox');
  };

  it('survives leaving at once, with what was still being typed, and no page is loaded on the way', async () => {
    await page.goto(desk.origin + path());
    let loads = 0;
    page.on('request', (r) => r.resourceType() === 'document' && r.frame() === page.mainFrame() && loads++);
    await (await open('Allowing button')).fill('Allow all of it');
    await page.getByRole('link', { name: 'Evidence', exact: true }).click();
    await page.getByRole('heading', { name: 'Officer’s board' }).waitFor();
    await page.goBack();
    await page.getByRole('button', { name: 'Allowing button: Allow all of it' }).waitFor();
    await page.getByText(/^Saved/).waitFor();
    expect(loads).toBe(0);
    await page.reload();
    await page.getByRole('button', { name: 'Allowing button: Allow all of it' }).waitFor();
  });

  it('survives a save that fails, and the page going away before it is sent again', async () => {
    const puts = '**/api/rules/notice/*';
    await page.route(puts, (route) =>
      route.request().method() === 'PUT' ? route.abort() : route.continue(),
    );
    await (await open('Allowing button')).fill('Allow it');
    await page.keyboard.press('Enter');
    await page.getByText('Not saved', { exact: true }).waitFor();
    page.once('dialog', (d) => void d.accept());
    await page.reload();
    await page.getByRole('button', { name: 'Allowing button: Allow it' }).waitFor();
    await page.unroute(puts);
    await page.getByText(/^Saved/).waitFor({ timeout: 15_000 });
    await page.reload();
    await page.getByRole('button', { name: 'Allowing button: Allow it' }).waitFor();
  });

  it('is not given a value that will not do, and one is told', async () => {
    await (await open('Ask again after')).fill('900');
    await page.getByRole('heading', { name: site.host }).click();
    await page.getByText(/Not kept: A whole number/).waitFor();
    await page.getByRole('button', { name: /^Ask again after: 6 months|^Ask again after: \d+/ }).waitFor();
  });
});

describe('what others must agree to', () => {
  it('is asked of them by name, told on Today, and in force with their yes', async () => {
    const path = `/websites/${encodeURIComponent(site.host)}?tab=notice`;
    await page.goto(desk.origin + path);
    // What the officer wrote themselves is in force first, so that they may agree to what the manager writes.
    await page.getByRole('button', { name: 'Put the changes in force' }).press('Enter');
    await page.getByText(/^In force: visitors see it/).waitFor();
    await page.getByRole('button', { name: /^Who must agree/ }).press('Enter');
    await page.getByRole('option', { name: 'one person who did not write it' }).click();
    await page.getByText(/one person who did not write it must agree/).waitFor();
    const manager = await desk.signedIn('site manager');
    await manager.goto(desk.origin + path);
    await manager.getByRole('button', { name: /^Ask again after:/ }).press('Enter');
    await manager.getByRole('textbox', { name: 'Ask again after' }).fill('9');
    await manager.keyboard.press('Enter');
    await manager.getByText(/^Saved/).waitFor();
    await manager.getByRole('button', { name: 'Ask for it to be in force …' }).click();
    await manager.getByText(/asks for it/).waitFor();
    await manager.getByRole('searchbox', { name: /Who is asked/ }).fill('officer');
    await manager.keyboard.press('ArrowDown');
    await manager.keyboard.press('Enter');
    await manager.getByText(/^Chosen: /).waitFor();
    await manager.getByLabel('Why it is to be in force').fill('Half a year was too often');
    await expectAccessible(manager, 'asking');
    await manager.getByRole('button', { name: 'Ask them' }).click();
    await manager.getByText(/waits: 0 of 1 agreed/).waitFor();
    await page.goto(`${desk.origin}/today`);
    await page.getByRole('link', { name: /asks you to agree to version/ }).press('Enter');
    await page.getByRole('button', { name: 'Agree …', exact: true }).press('Enter');
    await page
      .getByText(/^Ask again after: /)
      .first()
      .waitFor();
    await page.getByLabel('Why').fill('Read and found fair');
    await expectAccessible(page, 'agreeing');
    await page.getByRole('button', { name: 'I agree' }).press('Enter');
    await page.getByText(/Version \d+ in force since today/).waitFor();
    await expect.poll(() => manager.getByText(/Version \d+ in force since today/).count()).toBe(1);
    const nobody = page.getByRole('option', { name: 'nobody else' });
    // What is in force is read again a moment later, and closes what was opened before.
    await expect
      .poll(
        async () => {
          if (!(await nobody.isVisible()))
            await page.getByRole('button', { name: /^Who must agree/ }).press('Enter');
          return nobody.isVisible();
        },
        { timeout: 15_000, interval: 1000 },
      )
      .toBe(true);
    await nobody.click();
    await page.getByText(/nobody else must agree/).waitFor();
    await manager.context().close();
  });
});

describe('the ledger', () => {
  it('is verified on the screen and, exported, without a database', async () => {
    await page.goto(`${desk.origin}/evidence/ledger`);
    await page
      .getByRole('row', { name: /consent\.record/ })
      .first()
      .waitFor();
    await expectAccessible(page, 'ledger');
    await page.keyboard.press('v');
    await page.getByText(/In order: [\d,]+ entries in/).waitFor();
    const exported = await (await page.request.get(`${desk.origin}/api/evidence/export`)).text();
    const file = join(desk.folder, 'ledger.jsonl');
    await writeFile(file, exported);
    expect(await run('./yare', ['verify-ledger', file])).toMatchObject({
      code: 0,
      output: expect.stringContaining('In order'),
    });
    await writeFile(file, exported.replace('"action":"notice.put-in-force"', '"action":"notice.pause"'));
    expect(await run('./yare', ['verify-ledger', file])).toMatchObject({
      code: 1,
      output: expect.stringContaining('edited, dropped or moved'),
    });
    expect(await readFile(file, 'utf8')).not.toContain('harbour_session=');
  });
});

describe('people', () => {
  it('sign in by keyboard, find things, see their sessions, and sign out', async () => {
    const context = await desk.browser.newContext();
    const fresh = await context.newPage();
    await fresh.goto(`${desk.origin}/evidence/ledger?action=site.add`);
    await fresh.getByLabel('E-mail').waitFor();
    await expectAccessible(fresh, 'sign-in');
    await fresh.keyboard.type('officer@test.example');
    await fresh.keyboard.press('Tab');
    await fresh.keyboard.type('wrong');
    await fresh.keyboard.press('Enter');
    await fresh.getByText('That e-mail and password do not go together').waitFor();
    await fresh.getByLabel('Password').fill('harbour lights at night');
    await fresh.keyboard.press('Enter');
    await fresh.waitForURL('**/evidence/ledger?action=site.add');
    await fresh.getByRole('row', { name: /site\.add/ }).waitFor();
    await fresh.keyboard.press('Control+K');
    await fresh.keyboard.type('tally_vis');
    await fresh
      .getByRole('option', { name: /tally_visitor/ })
      .first()
      .waitFor();
    await expectAccessible(fresh, 'find');
    await fresh.keyboard.press('Enter');
    await fresh.waitForURL('**/websites/**tracker=**');
    await fresh.getByRole('heading', { name: 'tally_visitor' }).waitFor();
    await fresh.keyboard.press('?');
    await fresh.getByRole('dialog', { name: 'Keys of this screen' }).waitFor();
    await expectAccessible(fresh, 'keys');
    await fresh.keyboard.press('Escape');
    await fresh.goto(`${desk.origin}/account`);
    await fresh.getByText('this one').waitFor();
    await expectAccessible(fresh, 'account');
    await fresh.getByRole('button', { name: 'Dark' }).click();
    await expectAccessible(fresh, 'account, dark');
    await fresh.goto(`${desk.origin}/today`);
    await fresh.getByRole('heading', { name: 'Today' }).waitFor();
    await expectAccessible(fresh, 'today, dark');
    await fresh.goto(`${desk.origin}/account`);
    await fresh.getByRole('button', { name: 'Sign out' }).click();
    await fresh.waitForURL('**/sign-in');
    expect((await fresh.request.get(`${desk.origin}/api/websites`)).status()).toBe(401);
    await context.close();
  });

  it('who only read are offered nothing that changes, and are refused it', async () => {
    const auditor = await desk.signedIn('auditor');
    await auditor.goto(`${desk.origin}/websites/${encodeURIComponent(site.host)}?tab=notice`);
    await auditor.getByText(/^Version \d+ in force/).waitFor();
    expect(await auditor.getByRole('button', { name: /New|Sweep again|Pause it|Title:/ }).count()).toBe(0);
    const refused = await auditor.request.post(
      `${desk.origin}/api/websites/${encodeURIComponent(site.host)}/sweeps`,
      { data: {}, headers: { origin: desk.origin } },
    );
    expect(refused.status()).toBe(403);
    expect(await refused.json()).toMatchObject({
      error: 'Your role, auditor, does not include starting a sweep.',
      requestId: expect.any(String),
    });
    const foreign = await auditor.request.post(`${desk.origin}/api/accounts/sign-out`, {
      data: {},
      headers: { origin: 'https://evil.example' },
    });
    expect(foreign.status()).toBe(403);
    await auditor.context().close();
  });
});

async function siteKey(): Promise<string> {
  const detail = (await (
    await page.request.get(`${desk.origin}/api/websites/${encodeURIComponent(site.host)}`)
  ).json()) as { siteKey: string };
  return detail.siteKey;
}
