import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Account } from '../../../src/core/accounts/authority.ts';
import type { ProviderContent } from '../../../src/core/accounts/sign-on/provider.ts';
import { USUAL_POLICY } from '../../../src/core/accounts/sign-in/policy.ts';
import { findAccount, findByEmail } from '../../../src/server/accounts/account.ts';
import { accountOf, listSessions } from '../../../src/server/accounts/session.ts';
import { SIGN_IN_POLICY } from '../../../src/server/accounts/sign-in/policy-kind.ts';
import { admit, judge } from '../../../src/server/accounts/sign-on/admit.ts';
import {
  beginSignOn,
  endSignOn,
  readConfiguration,
  redirectUri,
} from '../../../src/server/accounts/sign-on/oidc.ts';
import { PROVIDER } from '../../../src/server/accounts/sign-on/provider-kind.ts';
import { addProvider, setSecret, stopProvider } from '../../../src/server/accounts/sign-on/providers.ts';
import { signsInBy } from '../../../src/server/accounts/sign-on/signs-in-by.ts';
import { editObject, readObject } from '../../../src/server/rules/plain-object.ts';
import {
  CLIENT,
  followSignOn,
  identityProvider,
  type IdentityProvider,
  type KnownPerson,
} from '../../servers/identity-provider.ts';
import { testAccount, testContext, unique } from '../context.ts';

const plain = testContext();
let login: IdentityProvider;
let ctx: typeof plain;
let officer: Account;
let provider: number;
const from = { address: '198.18.5.7', userAgent: 'Chrome on Linux' };

beforeAll(async () => {
  login = await identityProvider(() => redirectUri(plain));
  const settings = { ...plain.settings, ALLOWED_PRIVATE: new URL(login.issuer).host };
  ctx = { ...plain, settings };
  officer = await testAccount(ctx);
  provider = await addProvider(ctx, officer.id, {
    ...{ name: 'Harbour login', issuer: login.issuer },
    ...{ clientId: CLIENT.id, clientSecret: CLIENT.secret },
  });
});
afterAll(async () => {
  await login.stop();
  await ctx.store.close();
});

async function edit(content: Partial<ProviderContent>): Promise<void> {
  const { revision, content: base } = await readObject(ctx.store, PROVIDER, provider);
  await ctx.store.transaction((tx) =>
    editObject(tx, ctx.now(), PROVIDER, officer.id, provider, {
      ...{ revision, base, content: { ...base, ...content } },
    }),
  );
}
const person = (more: Partial<KnownPerson> = {}): KnownPerson => ({
  sub: unique('sub-'),
  email: `${unique('nora')}@brindlestrait.example`,
  ...{ email_verified: true, name: 'Nora Lind', title: 'Clerk', groups: [] },
  ...more,
});

/** What the provider tells of somebody who goes all the way. */
async function told(who: KnownPerson) {
  login.next(who);
  const { step, url } = await beginSignOn(ctx, provider, { to: '/today', tries: null });
  return endSignOn(ctx, step, await followSignOn(url, redirectUri(ctx)));
}
const signOn = async (who: KnownPerson) => admit(ctx, await told(who), from);

describe('signing on', () => {
  it('leads to the account with the verified address, links it, and finds it by the subject from then on', async () => {
    const account = await testAccount(ctx, 'auditor');
    const who = person({ email: account.email.toUpperCase() });
    const { token } = await signOn(who);
    expect(await accountOf(ctx, token)).toMatchObject({ id: account.id });
    expect((await listSessions(ctx, account.id))[0]?.way).toBe('sign-on');
    expect((await signsInBy(ctx.store, account.id)).identities).toMatchObject([{ name: 'Harbour login' }]);
    // Another address there is the same person still.
    await signOn({ ...who, email: 'another@brindlestrait.example' });
    expect((await findAccount(ctx.store, account.id)).account.email).toBe(account.email);
  });

  it('refuses, with why, whoever has no account, an address that is not verified, and somebody else with it', async () => {
    const account = await testAccount(ctx, 'auditor');
    await expect(signOn(person())).rejects.toThrow('You have no account here.');
    await expect(signOn(person({ email: account.email, email_verified: false }))).rejects.toThrow('verified');
    await signOn(person({ email: account.email }));
    await expect(signOn(person({ email: account.email }))).rejects.toThrow('somebody else’s');
  });

  it('gives an account to whoever a group gives a role, and the role comes and goes with the group', async () => {
    await edit({
      newcomers: 'made',
      groups: { Auditors: ['auditor'], Stewards: ['data steward', 'auditor'] },
    });
    const who = person({ groups: ['Stewards', 'Everybody'] });
    await expect(signOn(person({ groups: ['Everybody'] }))).rejects.toThrow('gives a role');
    const { account, token } = await signOn(who);
    expect(account.roles.map((r) => r.id).sort()).toEqual(['auditor', 'data steward']);
    expect((await signsInBy(ctx.store, account.id)).byGroups).toEqual([
      { role: 'data steward', groups: ['Stewards at Harbour login'] },
      { role: 'auditor', groups: ['Stewards at Harbour login'] },
    ]);
    const after = await signOn({ ...who, groups: ['Auditors'] });
    expect(after.account.roles.map((r) => r.id)).toEqual(['auditor']);
    // What the mapping gives changes at once, also for who is here now.
    await edit({ groups: { Auditors: ['records manager'] } });
    expect((await accountOf(ctx, token))?.roles.map((r) => r.id)).toEqual(['records manager']);
    await stopProvider(ctx, officer.id, provider, true);
    expect((await findAccount(ctx.store, account.id)).account.roles).toEqual([]);
    expect(await accountOf(ctx, token)).toBeUndefined();
    await expect(beginSignOn(ctx, provider, { to: '', tries: null })).rejects.toThrow('provider');
    await stopProvider(ctx, officer.id, provider, false);
    expect((await findAccount(ctx.store, account.id)).account.roles.map((r) => r.id)).toEqual([
      'records manager',
    ]);
  });

  it('keeps what was given by hand, and the last officer', async () => {
    await edit({ groups: { Officers: ['officer'], Auditors: ['auditor'] } });
    const account = await testAccount(ctx, 'auditor');
    const who = person({ email: account.email, groups: ['Officers', 'Auditors'] });
    await signOn(who);
    await ctx.store.run('UPDATE account SET disabled_at = NOW(3) WHERE id <> ?', [account.id]);
    try {
      const left = await signOn({ ...who, groups: [] });
      expect(left.account.roles.map((r) => r.id).sort()).toEqual(['auditor', 'officer']);
    } finally {
      await ctx.store.run('UPDATE account SET disabled_at = NULL');
    }
    const gone = await signOn({ ...who, groups: [] });
    expect(gone.account.roles.map((r) => r.id)).toEqual(['auditor']);
  });

  it('asks for what the provider has to say, and what the role asks', async () => {
    const account = await testAccount(ctx, 'auditor');
    const who = person({ email: account.email });
    await edit({ needs: 'second factor' });
    await expect(signOn(who)).rejects.toThrow('second factor');
    await signOn({ ...who, amr: ['pwd', 'mfa'] });
    await edit({ needs: 'any' });
    const { revision, content: base } = await readObject(ctx.store, SIGN_IN_POLICY, 'desk');
    const strict = { ...USUAL_POLICY, roles: { auditor: { ...USUAL_POLICY.all, signOn: false } } };
    await ctx.store.transaction((tx) =>
      editObject(tx, ctx.now(), SIGN_IN_POLICY, officer.id, 'desk', { revision, base, content: strict }),
    );
    expect(await listSessions(ctx, account.id)).toEqual([]);
    await expect(signOn(who)).rejects.toThrow('Sign-on does not do');
    await ctx.store.run('DELETE FROM sign_in_policy');
  });

  it('tells what it would come to, and changes nothing', async () => {
    await edit({ newcomers: 'made', groups: { Auditors: ['auditor'] } });
    const who = person({ groups: ['Auditors'] });
    const judged = await judge(ctx.store, await told(who));
    expect(judged).toEqual({
      admission: { as: 'made' },
      told: [{ role: 'auditor', groups: ['Auditors'] }],
    });
    expect(await findByEmail(ctx.store, String(who['email']))).toBeUndefined();
  });
});

describe('an answer of a provider', () => {
  it('is taken once, with the state it was asked with, and says who refused', async () => {
    const who = person();
    login.next(who);
    const begun = await beginSignOn(ctx, provider, { to: '', tries: null });
    const back = await followSignOn(begun.url, redirectUri(ctx));
    await endSignOn(ctx, begun.step, back);
    await expect(endSignOn(ctx, begun.step, back)).rejects.toThrow('Sign in again');
    const other = await beginSignOn(ctx, provider, { to: '', tries: null });
    await expect(endSignOn(ctx, other.step, back)).rejects.toThrow('did not say who you are');
    login.refuse();
    const third = await beginSignOn(ctx, provider, { to: '', tries: null });
    const refused = await followSignOn(third.url, redirectUri(ctx));
    await expect(endSignOn(ctx, third.step, refused)).rejects.toThrow('did not let you in');
  });

  it('is not taken with another secret', async () => {
    await setSecret(ctx, officer.id, provider, 'not the one that was agreed on');
    await expect(told(person())).rejects.toThrow('did not say who you are');
    await setSecret(ctx, officer.id, provider, CLIENT.secret);
    await told(person());
  });
});

describe('the address of a provider', () => {
  const asked = (issuer: string) => readConfiguration(ctx, { issuer, clientId: 'x', secret: '' });

  it('is read before it is kept, and never without TLS but where that was allowed', async () => {
    await expect(asked('http://login.example')).rejects.toThrow('Without TLS');
    await expect(asked('https://localhost:9')).rejects.toThrow('on this machine');
    await expect(asked(`${login.issuer}/elsewhere`)).rejects.toThrow('does not say how it is asked');
    expect((await asked(login.issuer)).serverMetadata().issuer).toBe(login.issuer);
  });
});
