import type { BrowserContext, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { putOnToday } from '../../src/server/desk/today.ts';
import { insertSite } from '../../src/server/websites/sites/sites.ts';
import { expectAccessible, PASSWORD, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let page: Page;

beforeAll(async () => {
  desk = await startDesk();
  page = await desk.signedIn();
});
afterAll(() => desk?.stop());

/** Signs in on the screen, in a browser of its own. */
async function signIn(email: string, password: string): Promise<{ context: BrowserContext; page: Page }> {
  const context = await desk.browser.newContext({ viewport: { width: 1280, height: 800 } });
  const fresh = await context.newPage();
  await fresh.goto(`${desk.origin}/sign-in`);
  await fresh.getByLabel('E-mail').fill(email);
  await fresh.getByLabel('Password').fill(password);
  await fresh.keyboard.press('Enter');
  return { context, page: fresh };
}

describe('one’s own account', () => {
  it('is told of sessions elsewhere, and ends them with the old password', async () => {
    const other = await signIn('officer@test.example', PASSWORD);
    await other.page.getByText('You are signed in in one other place.').waitFor();
    await other.page.getByRole('button', { name: 'See where' }).click();
    await other.page.waitForURL('**/account');
    await other.page.getByRole('button', { name: 'End it' }).waitFor();

    await page.goto(`${desk.origin}/account`);
    const [current, next] = [page.getByLabel('The one you have'), page.getByLabel('A new one')];
    const change = page.getByRole('button', { name: 'Change it and end other sessions' });
    await current.fill('not the one I have');
    await next.fill('rain on the quay at six');
    await change.press('Enter');
    await page.getByText('It is not this one. Type the one you sign in with now.').waitFor();
    expect(await next.inputValue()).toBe('rain on the quay at six');
    await current.fill(PASSWORD);
    await next.fill('officer@test.example');
    await next.press('Enter');
    await page.locator('input[aria-invalid=true][autocomplete=new-password]').waitFor();
    await expectAccessible(page, 'account, refused');
    await next.fill('rain on the quay at six');
    await next.press('Enter');
    await page.getByText('Your password is changed; your other session is over.').waitFor();
    // Its live stream ends with its session, and the screen says so by itself.
    await other.page.waitForURL('**/sign-in**', { timeout: 20_000 });
    await other.context.close();
    expect((await page.request.get(`${desk.origin}/api/websites`)).status()).toBe(200);

    const again = await signIn('officer@test.example', 'rain on the quay at six');
    await again.page.getByText('You are signed in in one other place.').waitFor();
    await again.context.close();
  });
});

describe('somebody else’s account', () => {
  it('is disabled and enabled by the officer alone, which ends what they do at once', async () => {
    const manager = await desk.signedIn('site manager');
    await manager.goto(`${desk.origin}/websites`);
    await manager.getByText('No website is in the program yet').waitFor();

    await page.goto(`${desk.origin}/account`);
    await page.getByRole('link', { name: /^The site manager/ }).click();
    await page.getByRole('heading', { name: 'The site manager' }).waitFor();
    await page.getByText(/last used/).waitFor();
    await expectAccessible(page, 'another account');
    await page.getByRole('button', { name: 'Disable this account' }).press('Enter');
    await page.getByText('The site manager cannot sign in any more.').waitFor();
    await page.getByText('Nowhere now.').waitFor();
    await manager.waitForURL('**/sign-in**', { timeout: 20_000 });
    const shut = await signIn('site.manager@test.example', PASSWORD);
    await shut.page.getByText('This account is disabled.').waitFor();
    await shut.context.close();

    await page.getByRole('button', { name: 'Let them sign in again' }).press('Enter');
    await page.getByRole('button', { name: 'Disable this account' }).waitFor();
    const back = await signIn('site.manager@test.example', PASSWORD);
    await back.page.waitForURL('**/today');
    await page.getByRole('button', { name: 'End all of their sessions' }).click();
    await page.getByText('1 session of The site manager ended.').waitFor();
    await back.page.waitForURL('**/sign-in**', { timeout: 20_000 });
    await back.context.close();
    await manager.context().close();
  });

  it('is given a role that was made of one permission, and has it until that is taken away', async () => {
    const manager = await desk.signedIn('site manager');
    await manager.goto(`${desk.origin}/websites`);
    await manager.getByRole('navigation', { name: 'Areas' }).waitFor();
    const inBar = () => manager.getByRole('link', { name: 'Access', exact: true });
    expect(await inBar().count()).toBe(0);

    await page.goto(`${desk.origin}/account/roles`);
    await page.getByRole('link', { name: 'auditor' }).first().waitFor();
    await expectAccessible(page, 'roles');
    await page.keyboard.press('n');
    await page.getByLabel('What it is called').fill('Looks up who reaches what');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: /^Task/ }).press('Enter');
    await page.keyboard.type('Answers the help desk');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Put it in force' }).press('Enter');
    await page.getByText('It lets nobody do anything: choose a permission.').first().waitFor();
    await page.getByRole('button', { name: /^Access: nothing/ }).press('Enter');
    await page.getByRole('option', { name: 'seeing who reaches what' }).click();
    await page.keyboard.press('Escape');
    await page.getByText('Is all in').first().waitFor();
    await expectAccessible(page, 'a role');
    await page.getByRole('button', { name: 'Put it in force' }).press('Enter');
    await page.getByText('In force: who holds it may do this from now on.').waitFor();

    await page.goto(`${desk.origin}/account`);
    await page.getByRole('link', { name: /^The site manager/ }).click();
    await page.getByRole('button', { name: /^Roles/ }).press('Enter');
    await page.getByRole('option', { name: /^Looks up who reaches what/ }).click();
    await page.keyboard.press('Escape');
    await page.getByText('The site manager holds site manager, Looks up who reaches what now.').waitFor();
    await manager.goto(`${desk.origin}/access`);
    await inBar().waitFor();
    expect((await manager.request.get(`${desk.origin}/api/access/places`)).status()).toBe(200);
    await page.getByRole('button', { name: /^Roles/ }).press('Enter');
    await page.getByRole('option', { name: /^Looks up who reaches what/ }).click();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Roles: site manager', exact: true }).waitFor();
    await page.getByText('The site manager holds site manager now.').waitFor();
    expect((await manager.request.get(`${desk.origin}/api/access/places`)).status()).toBe(403);
    await manager.context().close();
  });

  it('is kept to some websites, and sees those alone from then on', async () => {
    const [mine, other] = await Promise.all(
      ['harbour', 'quay'].map(async (name) => {
        const host = `${name}.example`;
        await desk.store.transaction((tx) =>
          insertSite(tx, new Date(), { host, startUrl: `https://${host}/`, name, by: null }),
        );
        return host;
      }),
    );
    const manager = await desk.signedIn('site manager');
    await manager.goto(`${desk.origin}/websites`);
    await manager.getByRole('link', { name: new RegExp(other ?? '') }).waitFor();
    await page.goto(`${desk.origin}/account`);
    await page.getByRole('link', { name: /^The site manager/ }).click();
    await page.getByRole('button', { name: /^Which websites/ }).press('Enter');
    await page.getByRole('option', { name: mine ?? '' }).click();
    await page.getByText('looks after 1 of 2 websites.').waitFor();
    await page.keyboard.press('Escape');
    await expectAccessible(page, 'scope');
    await manager
      .getByRole('link', { name: new RegExp(other ?? '') })
      .waitFor({ state: 'detached', timeout: 20_000 });
    await manager
      .getByRole('link', { name: new RegExp(mine ?? '') })
      .first()
      .waitFor();
    const refused = await manager.request.get(`${desk.origin}/api/websites/${other}`);
    expect(refused.status()).toBe(403);
    await page.getByRole('button', { name: /^Which websites/ }).press('Enter');
    await page.getByRole('option', { name: /^All websites/ }).click();
    await page.keyboard.press('Escape');
    await manager.getByRole('link', { name: new RegExp(other ?? '') }).waitFor({ timeout: 20_000 });
    await manager.context().close();
  });

  it('is not to be seen by who does not look after accounts', async () => {
    const manager = await desk.signedIn('site manager');
    await manager.goto(`${desk.origin}/account`);
    await manager.getByText('this one').waitFor();
    expect(await manager.getByRole('link', { name: /^The auditor/ }).count()).toBe(0);
    for (const path of ['/api/accounts', '/api/accounts/1'])
      expect((await manager.request.get(`${desk.origin}${path}`)).status()).toBe(403);
    await manager.context().close();
  });
});

describe('Today', () => {
  it('shows what was told to those whom it concerns, until somebody has seen to it', async () => {
    await putOnToday(desk.store, {
      kind: 'process',
      key: 'worker',
      action: 'accounts.edit',
      words: 'The worker ended by itself and was started again',
      detail: 'killed by SIGKILL',
      link: '/today',
      since: new Date(),
      dismissable: true,
    });
    const manager = await desk.signedIn('site manager');
    await manager.goto(`${desk.origin}/today`);
    await manager.getByRole('heading', { name: /Nothing needs a hand/ }).waitFor();
    await manager.context().close();
    await page.goto(`${desk.origin}/today`);
    await page.getByText('The worker ended by itself').waitFor();
    await expectAccessible(page, 'today, told');
    await page.getByRole('button', { name: /^Seen to: The worker/ }).press('Enter');
    await page.getByRole('heading', { name: /Nothing needs a hand/ }).waitFor();
    await page.reload();
    await page.getByRole('heading', { name: /Nothing needs a hand/ }).waitFor();
  });

  it('is put off, handed on and taken back by keyboard', async () => {
    const put = (key: string, words: string) =>
      putOnToday(desk.store, {
        ...{ kind: 'unsorted', key, action: 'websites.read', words, detail: 'Nobody said yet' },
        ...{ link: '/websites', since: new Date() },
      });
    await put('one', 'One tracker to sort');
    await put('two', 'Two trackers to sort');
    await page.goto(`${desk.origin}/today`);
    const more = (words: string) => page.getByRole('button', { name: `More: ${words}`, exact: true });
    const choose = async (words: string, act: string) => {
      await more(words).press('Enter');
      await page.getByRole('menuitem', { name: act, exact: true }).press('Enter');
    };
    const shelf = (name: string) =>
      page.getByRole('navigation', { name: 'Shelf' }).getByRole('link', { name });
    await page.getByRole('button', { name: 'Why here: One tracker to sort' }).press('Enter');
    await page.getByRole('table', { name: 'Why it stands here' }).waitFor();
    await page.keyboard.press('Escape');
    await choose('One tracker to sort', 'Put off until tomorrow');
    await page.getByText('1 thing needs you').waitFor();
    await shelf('Put off').press('Enter');
    await page.getByText('1 thing waits for its day').waitFor();
    await expectAccessible(page, 'put off');
    await choose('One tracker to sort', 'Take it up again');
    await page.getByRole('heading', { name: 'Nothing is put off' }).waitFor();
    await shelf('Needs a hand').press('Enter');
    await choose('Two trackers to sort', 'Put off …');
    await page.getByLabel('Until', { exact: true }).fill('2031-01-01');
    await page.getByRole('button', { name: 'Put it off', exact: true }).press('Enter');
    await page.getByText(/Choose a day within 90 days/).waitFor();
    await page.keyboard.press('Escape');
    await choose('Two trackers to sort', 'Hand on …');
    await expectAccessible(page, 'handing on');
    await page.getByLabel('To', { exact: true }).selectOption({ label: 'The site manager' });
    await page.getByLabel('What they should know').fill('<b>yours</b>');
    await page.getByRole('button', { name: 'Hand it on', exact: true }).press('Enter');
    await page.getByText('It is with The site manager.').waitFor();
    await shelf('With others').press('Enter');
    await page.getByText('1 thing is with somebody else').waitFor();
    const manager = await desk.signedIn('site manager');
    await manager.goto(`${desk.origin}/today`);
    await manager.getByText(/The officer handed it to The site manager: “<b>yours<\/b>”/).waitFor();
    await manager.context().close();
    await choose('Two trackers to sort', 'Take it back');
    await page.getByRole('heading', { name: 'Nothing is with others' }).waitFor();
    await shelf('What changed').press('Enter');
    await page.getByRole('heading', { name: 'What changed' }).waitFor();
    await page.getByRole('list', { name: 'Came up' }).getByText('Two trackers to sort').waitFor();
    await expectAccessible(page, 'what changed');
  });
});
