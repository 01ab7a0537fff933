import type { BrowserContext, Page } from 'playwright-core';
import { Secret, TOTP } from 'otpauth';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CLIENT, identityProvider, type IdentityProvider } from '../servers/identity-provider.ts';
import { expectAccessible, PASSWORD, startDesk, type RunningDesk } from './desk.ts';

let desk: RunningDesk;
let login: IdentityProvider;
let page: Page;

beforeAll(async () => {
  login = await identityProvider(() => `${desk.origin}/sign-on/back`);
  desk = await startDesk(Number(new URL(login.issuer).port));
  page = await desk.signedIn();
});
afterAll(async () => {
  await login?.stop();
  await desk?.stop();
});

const button = (name: string | RegExp, on = page) => on.getByRole('button', { name, exact: true });

async function stranger(): Promise<{ context: BrowserContext; page: Page }> {
  const context = await desk.browser.newContext({
    viewport: { width: 1280, height: 800 },
    permissions: ['clipboard-read', 'clipboard-write'],
  });
  return { context, page: await context.newPage() };
}

async function typePassword(on: Page, role: string): Promise<void> {
  await on.goto(`${desk.origin}/sign-in?to=/account`);
  await on.getByLabel('E-mail').fill(`${role}@test.example`);
  await on.getByLabel('Password').fill(PASSWORD);
  await on.keyboard.press('Enter');
}

/** Signed in, and not only asked to sign in to go there. */
const IN = ({ pathname }: URL) => pathname === '/account';

const code = (secret: string, ahead = 0) =>
  new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: Date.now() + ahead * 1000 });

describe('a second factor', () => {
  it('is asked of a role, after it was seen what that comes to', async () => {
    await page.goto(`${desk.origin}/account/sign-on`);
    const soundings = page.getByRole('complementary', { name: 'Soundings' });
    await soundings.getByText('as it is asked').waitFor();
    await button(/^Ask more of a role/).press('Enter');
    await page.getByRole('option', { name: /^auditor/ }).click();
    await soundings.getByText('if it were asked now').waitFor();
    await soundings.getByText('sets up a second factor · asked of auditor').waitFor();
    await expectAccessible(page, 'what signing in asks');
    await button('Ask it from now on').press('Enter');
    await page.getByText('It is asked from now on; sessions that began otherwise are over.').waitFor();
    await soundings.getByText('as it is asked').waitFor();
  });

  it('is set up as one signs in, and asked from then on', async () => {
    const own = await stranger();
    await typePassword(own.page, 'auditor');
    await own.page.getByText(/Whoever is auditor signs in with a second factor/).waitFor();
    await expectAccessible(own.page, 'setting up, asked');
    await button('Set up one-time codes', own.page).press('Enter');
    const secret = (await own.page.getByLabel('Secret').textContent()) ?? '';
    await expectAccessible(own.page, 'one-time codes');
    const field = own.page.getByLabel('The code that it shows now');
    await field.fill('000000');
    await own.page.keyboard.press('Enter');
    await own.page.getByText(/This is not the code that is shown now/).waitFor();
    await field.fill(code(secret));
    await own.page.keyboard.press('Enter');
    await own.page.getByLabel('Recovery codes').waitFor();
    const [recovery = ''] = ((await own.page.getByLabel('Recovery codes').textContent()) ?? '').split('\n');
    expect(recovery).toMatch(/^[A-Z2-7]{4}(-[A-Z2-7]{4}){3}$/);
    await button('They are kept: go on', own.page).press('Enter');
    await own.page.waitForURL(IN);
    await own.page.getByText(/by a password and a second factor since/).waitFor();

    const again = await stranger();
    await typePassword(again.page, 'auditor');
    const next = again.page.getByLabel('One-time code, or a recovery code');
    await next.fill('123');
    await again.page.keyboard.press('Enter');
    await again.page.getByText(/Type the six digits/).waitFor();
    await expectAccessible(again.page, 'the second step');
    // The code of the next half minute is let in as well, and was not used yet.
    await next.fill(code(secret, 30));
    await again.page.keyboard.press('Enter');
    await again.page.waitForURL(IN);

    const third = await stranger();
    await typePassword(third.page, 'auditor');
    await third.page.getByLabel('One-time code, or a recovery code').fill(recovery.toLowerCase());
    await third.page.keyboard.press('Enter');
    await third.page.waitForURL(IN);
    await third.page.getByText('9 codes not used yet').waitFor();
    for (const { context } of [own, again, third]) await context.close();
  });
});

describe('a passkey', () => {
  it('is set up in one’s own account, and signs in alone', async () => {
    const devtools = await page.context().newCDPSession(page);
    await devtools.send('WebAuthn.enable');
    await devtools.send('WebAuthn.addVirtualAuthenticator', {
      options: {
        ...{ protocol: 'ctap2', transport: 'internal', hasResidentKey: true, hasUserVerification: true },
        ...{ isUserVerified: true, automaticPresenceSimulation: true },
      },
    });
    await page.goto(`${desk.origin}/account`);
    await button('Set up a second factor').press('Enter');
    await page.getByLabel('Your password').fill('not mine');
    await page.keyboard.press('Enter');
    await button('Set up a passkey').press('Enter');
    await page.getByText(/This is not your password/).waitFor();
    await page.keyboard.press('Escape');
    await button('Set up a second factor').press('Enter');
    await page.getByLabel('Your password').fill(PASSWORD);
    await page.keyboard.press('Enter');
    await button('Set up a passkey').press('Enter');
    await page.locator('pre').waitFor();
    await button('They are kept').press('Enter');
    await page.getByText('Passkey of Linux').waitFor();
    await expectAccessible(page, 'how one signs in');
    await button('Sign out').press('Enter');
    await page.waitForURL('**/sign-in');
    await expectAccessible(page, 'signing in');
    await button('Use a passkey').press('Enter');
    await page.waitForURL('**/today');
    await page.goto(`${desk.origin}/account`);
    await page.getByText(/by a passkey since/).waitFor();

    // With a password, it is the second step.
    await button('Sign out').press('Enter');
    await page.waitForURL('**/sign-in');
    await typePassword(page, 'officer');
    await button('Use your passkey').press('Enter');
    await page.waitForURL(IN);
  });

  it('is taken away by an officer from whoever lost it', async () => {
    await page.goto(`${desk.origin}/account`);
    await page.getByText('The auditor').click();
    await page.getByText(/and one-time codes · 9 recovery codes left/).waitFor();
    await expectAccessible(page, 'how somebody else signs in');
    await button('They lost their second factor …').press('Enter');
    await button('Take away it').press('Enter');
    await page.getByText('without a second factor').waitFor();
  });
});

describe('a provider', () => {
  const nora = {
    ...{ sub: 'n-1', name: 'Nora Lind', email: 'nora.lind@test.example', email_verified: true },
    groups: ['Stewards', 'Everybody'],
  };

  it('is added, tried, and its groups give roles', async () => {
    await page.goto(`${desk.origin}/account/sign-on`);
    await button('Add a provider …').press('Enter');
    const form = page.getByRole('dialog', { name: 'Add a provider' });
    await form.getByLabel('What people call it').fill('Harbour login');
    await form.getByLabel('Issuer').fill(`${login.issuer}/elsewhere`);
    await form.getByLabel('Client id').fill(CLIENT.id);
    await form.getByLabel('Client secret').fill(CLIENT.secret);
    await page.keyboard.press('Enter');
    await form.getByText(/openid-configuration opens/).waitFor();
    await form.getByLabel('Issuer').fill(login.issuer);
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Harbour login' }).waitFor();
    await button(/^Whoever has no account/).press('Enter');
    await page.getByRole('option', { name: 'gets one when a group gives a role' }).click();
    await page.getByText('It holds from now on.').first().waitFor();
    await button(/^Another group/).press('Enter');
    await page.getByRole('dialog', { name: 'Another group' }).getByRole('textbox').fill('Stewards');
    await page.keyboard.press('Enter');
    await button('Stewards gives: nothing').press('Enter');
    await page.getByRole('option', { name: /^data steward/ }).click();
    await page.keyboard.press('Escape');
    await button('Stewards gives: data steward').waitFor();
    await expectAccessible(page, 'a provider');

    login.next(nora);
    await button('Try it').press('Enter');
    await page.getByText('✓ Let in: an account would be made.').waitFor();
    await page.getByText('data steward by Stewards').waitFor();
    await expectAccessible(page, 'what a provider says');
    await page.getByRole('link', { name: 'Back to the provider' }).press('Enter');
    await page.getByRole('heading', { name: 'Harbour login' }).waitFor();
  });

  it('lets somebody in, and says why not', async () => {
    const own = await stranger();
    login.next({ ...nora, groups: ['Everybody'] });
    await own.page.goto(`${desk.origin}/sign-in?to=/account`);
    await own.page.getByRole('link', { name: 'Sign on with Harbour login' }).press('Enter');
    await own.page.getByText('No group of yours at Harbour login gives a role here.').waitFor();
    await expectAccessible(own.page, 'not signed in');
    login.next(nora);
    await own.page.goto(`${desk.origin}/sign-in?to=/account`);
    await own.page.getByRole('link', { name: 'Sign on with Harbour login' }).press('Enter');
    await own.page.waitForURL(IN);
    await own.page.getByText(/data steward · nora\.lind@test\.example/).waitFor();
    await own.page.getByText(/by sign-on since/).waitFor();
    await own.page.getByText(/The word of your provider lets you in/).waitFor();
    expect(await own.page.getByLabel('The one you have').count()).toBe(0);
    await own.context.close();
  });

  it('keeps accounts with a token: who leaves there is out here', async () => {
    await button('Let it keep accounts …').press('Enter');
    await button('Make a token').press('Enter');
    const token = (await page.getByLabel('Token').textContent()) ?? '';
    await button('It is kept').press('Enter');
    const scim = async (method: string, path: string, body?: object) =>
      fetch(`${desk.origin}/scim/v2${path}`, {
        method,
        headers: { authorization: `Bearer ${token}`, 'content-type': 'application/scim+json' },
        ...(body ? { body: JSON.stringify(body) } : {}),
      });
    const found = (await (
      await scim('GET', `/Users?filter=${encodeURIComponent(`userName eq "${nora.email}"`)}`)
    ).json()) as { Resources: { id: string }[] };
    const id = found.Resources[0]?.id ?? '';
    const answer = await scim('PATCH', `/Users/${id}`, {
      schemas: ['urn:ietf:params:scim:api:messages:2.0:PatchOp'],
      Operations: [{ op: 'replace', path: 'active', value: false }],
    });
    expect([answer.status, answer.headers.get('content-type')]).toEqual([
      200,
      'application/scim+json; charset=utf-8',
    ]);
    expect((await fetch(`${desk.origin}/scim/v2/Users`)).status).toBe(401);
    await page.getByText(/1 account so far/).waitFor();
    const own = await stranger();
    await own.page.goto(`${desk.origin}/sign-in`);
    await own.page.getByRole('link', { name: 'Sign on with Harbour login' }).press('Enter');
    await own.page.getByText('This account is disabled.').waitFor();
    await own.context.close();
  });
});
