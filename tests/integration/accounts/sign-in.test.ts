import { Secret, TOTP } from 'otpauth';
import { afterAll, describe, expect, it } from 'vitest';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { USUAL_POLICY, type SignInPolicy } from '../../../src/core/accounts/sign-in/policy.ts';
import { accountOf, listSessions } from '../../../src/server/accounts/session.ts';
import { readPolicy } from '../../../src/server/accounts/sign-in/demand.ts';
import { dropFactors, factorsOf } from '../../../src/server/accounts/sign-in/factors.ts';
import { changeFactors } from '../../../src/server/accounts/sign-in/own-factors.ts';
import { peopleSigningIn, SIGN_IN_POLICY } from '../../../src/server/accounts/sign-in/policy-kind.ts';
import {
  setUpToSignIn,
  signInByFactor,
  signInByPassword,
  type SigningIn,
} from '../../../src/server/accounts/sign-in/sign-in.ts';
import { editObject, readObject } from '../../../src/server/rules/plain-object.ts';
import { PASSWORD, signIn, testAccount, testContext } from '../context.ts';

const ctx = testContext();
const from = { address: '198.18.4.7', userAgent: 'Chrome on Linux' };
let officer: Account;

async function setPolicy(content: SignInPolicy, by = officer.id): Promise<void> {
  const { revision, content: base } = await readObject(ctx.store, SIGN_IN_POLICY, 'desk');
  await ctx.store.transaction((tx) =>
    editObject(tx, ctx.now(), SIGN_IN_POLICY, by, 'desk', { revision, base, content }),
  );
}
afterAll(async () => {
  await setPolicy(USUAL_POLICY);
  await ctx.store.close();
});

const stewards = (more: Partial<SignInPolicy['all']>): SignInPolicy => ({
  ...USUAL_POLICY,
  roles: { 'data steward': { ...USUAL_POLICY.all, ...more } },
});
const codeOf = (secret: string, at = ctx.now()) =>
  new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: at.getTime() });
const begin = (account: Account) =>
  signInByPassword(ctx, { ...from, email: account.email, password: PASSWORD });
const asked = (signing: SigningIn) => {
  if (!('step' in signing)) throw new Error('signed in already');
  return signing;
};

/** Sets up one-time codes as part of signing in, and gives what came of it. */
async function withCodes(account: Account) {
  const { step } = asked(await begin(account));
  const given = await setUpToSignIn(ctx, step, { do: 'code' }, from);
  if (!('secret' in given)) throw new Error('no secret');
  const { secret } = given.secret;
  const done = await setUpToSignIn(ctx, step, { do: 'keep code', code: codeOf(secret) }, from);
  if (!('recovery' in done) || !('signedIn' in done)) throw new Error('not signed in');
  return { secret, recovery: done.recovery as readonly string[], signedIn: done.signedIn };
}
const later = (seconds: number) => ctx.at(new Date(ctx.now().getTime() + seconds * 1000).toISOString());

describe('a second factor that a role asks for', () => {
  it('is set up as one signs in, asked from then on, and no code is good twice', async () => {
    officer = await testAccount(ctx);
    const steward = await testAccount(ctx, 'data steward');
    const old = await signIn(ctx, { ...from, email: steward.email, password: PASSWORD });
    const mine = await signIn(ctx, { ...from, email: officer.email, password: PASSWORD });
    await setPolicy(stewards({ own: 'two factors', signOn: false, idleMinutes: 10, mostHours: 2 }));
    // Who signed in with less than is asked now is out; others are not.
    expect(await accountOf(ctx, old.token)).toBeUndefined();
    expect(await accountOf(ctx, mine.token)).toBeDefined();

    const first = asked(await begin(steward));
    expect(first.next).toMatchObject({
      asks: 'set up',
      least: 'two factors',
      because: 'Whoever is data steward',
    });
    await expect(setUpToSignIn(ctx, first.step, { do: 'keep code', code: '000000' }, from)).rejects.toThrow(
      'Begin to set it up first',
    );
    const { secret, recovery, signedIn } = await withCodes(steward);
    expect(recovery).toHaveLength(10);
    expect(await accountOf(ctx, signedIn.token)).toMatchObject({ id: steward.id });
    expect((await listSessions(ctx, steward.id))[0]?.way).toBe('two factors');

    const { step, next } = asked(await begin(steward));
    expect(next).toEqual({ asks: 'factor', code: true, passkey: null });
    // The code with which it was set up was used with that.
    await expect(signInByFactor(ctx, step, { code: codeOf(secret) }, from)).rejects.toThrow('not good');
    later(31);
    const code = codeOf(secret);
    const both = await Promise.allSettled([
      signInByFactor(ctx, step, { code }, from),
      begin(steward).then((s) => signInByFactor(ctx, asked(s).step, { code }, from)),
    ]);
    expect(both.filter((b) => b.status === 'fulfilled')).toHaveLength(1);
  });

  it('lets a session last as long as its role lets it', async () => {
    const steward = await testAccount(ctx, 'data steward');
    const { signedIn } = await withCodes(steward);
    later(9 * 60);
    expect(await accountOf(ctx, signedIn.token)).toBeDefined();
    later(11 * 60);
    expect(await accountOf(ctx, signedIn.token)).toBeUndefined();
  });

  it('is replaced by a recovery code, which is good once', async () => {
    const steward = await testAccount(ctx, 'data steward');
    const { recovery } = await withCodes(steward);
    const [code = ''] = recovery;
    const again = asked(await begin(steward));
    expect(await signInByFactor(ctx, again.step, { code }, from)).toHaveProperty('signedIn');
    expect((await factorsOf(ctx.store, steward.id)).recovery).toBe(9);
    const twice = asked(await begin(steward));
    await expect(signInByFactor(ctx, twice.step, { code }, from)).rejects.toThrow('not good');
  });

  it('is not guessed: five tries a step, and what was guessed counts whatever the password forgives', async () => {
    const steward = await testAccount(ctx, 'data steward');
    await withCodes(steward);
    later(3600);
    const outcomes: string[] = [];
    for (let round = 0; round < 3; round += 1) {
      const { step } = asked(await begin(steward));
      for (let n = 0; n < 4; n += 1)
        outcomes.push(
          await signInByFactor(ctx, step, { code: '111111' }, from).then(
            () => 'in',
            (e: Error) => e.message,
          ),
        );
    }
    expect(outcomes).not.toContain('in');
    expect(outcomes.some((o) => o.startsWith('Too many failed'))).toBe(true);
  });

  it('cannot be answered for somebody else, too late, or twice', async () => {
    const steward = await testAccount(ctx, 'data steward');
    const other = await testAccount(ctx, 'data steward');
    const { secret } = await withCodes(steward);
    await withCodes(other);
    later(60);
    const { step } = asked(await begin(other));
    await expect(signInByFactor(ctx, step, { code: codeOf(secret) }, from)).rejects.toThrow('not good');
    const mine = asked(await begin(steward));
    later(11 * 60);
    await expect(signInByFactor(ctx, mine.step, { code: codeOf(secret) }, from)).rejects.toThrow(
      'took too long',
    );
    await expect(signInByFactor(ctx, 'nothing', { code: '123456' }, from)).rejects.toThrow('took too long');
    await expect(signInByFactor(ctx, undefined, { code: '123456' }, from)).rejects.toThrow('took too long');
  });

  it('is taken away by an officer from whoever lost it, and stays for whoever is asked for it', async () => {
    const steward = await testAccount(ctx, 'data steward');
    const { signedIn } = await withCodes(steward);
    const session = { token: signedIn.token, address: from.address };
    await expect(
      changeFactors(ctx, steward, { do: 'drop code', password: 'wrong' }, session),
    ).rejects.toThrow('not your password');
    await expect(
      changeFactors(ctx, steward, { do: 'drop code', password: PASSWORD }, session),
    ).rejects.toThrow('what your role asks for');
    expect((await factorsOf(ctx.store, steward.id)).code).not.toBeNull();
    await ctx.store.transaction((tx) => dropFactors(tx, ctx, officer.id, steward));
    expect(await factorsOf(ctx.store, steward.id)).toEqual({ passkeys: [], code: null, recovery: 0 });
    expect(asked(await begin(steward)).next).toMatchObject({ asks: 'set up' });
  });

  it('is set up in one’s own account with the password, and makes new recovery codes', async () => {
    const { token } = await signIn(ctx, { ...from, email: officer.email, password: PASSWORD });
    const session = { token, address: from.address };
    const begun = await changeFactors(ctx, officer, { do: 'code', password: PASSWORD }, session);
    if (!begun.secret) throw new Error('no secret');
    expect(begun.secret.picture).toMatch(/^data:image\/png;base64,/);
    expect(begun.secret.uri).toContain('issuer=Yare%20Warden');
    const kept = await changeFactors(
      ctx,
      officer,
      { do: 'keep code', code: codeOf(begun.secret.secret) },
      session,
    );
    const again = await changeFactors(ctx, officer, { do: 'recovery', password: PASSWORD }, session);
    expect(again.recovery).toHaveLength(10);
    expect(kept.recovery).not.toEqual(again.recovery);
    await changeFactors(ctx, officer, { do: 'drop code', password: PASSWORD }, session);
    expect((await factorsOf(ctx.store, officer.id)).recovery).toBe(0);
  });
});

describe('what signing in asks', () => {
  it('is refused where whoever sets it could not sign in any more, or no officer could', async () => {
    const all = { ...USUAL_POLICY, all: { ...USUAL_POLICY.all, own: 'none' as const } };
    await expect(setPolicy(all)).rejects.toThrow('You could not sign in any more');
    const officers = { ...USUAL_POLICY, roles: { officer: all.all } };
    const steward = await testAccount(ctx, 'data steward');
    await expect(setPolicy(officers, steward.id)).rejects.toThrow('No officer could sign in');
    expect((await readPolicy(ctx.store)).all.own).toBe('password');
  });

  it('refuses a password where only sign-on will do, once the password was right', async () => {
    const auditor = await testAccount(ctx, 'auditor');
    await setPolicy({ ...USUAL_POLICY, roles: { auditor: { ...USUAL_POLICY.all, own: 'none' } } });
    await expect(begin(auditor)).rejects.toThrow('Whoever is auditor signs in through sign-on alone.');
    await expect(
      signInByPassword(ctx, { ...from, email: auditor.email, password: 'another one entirely' }),
    ).rejects.toThrow('do not go together');
    await setPolicy(USUAL_POLICY);
    expect(await begin(auditor)).toHaveProperty('signedIn');
  });

  it('lists people with what they have and how they signed in', async () => {
    const person = await testAccount(ctx, 'auditor');
    await begin(person);
    const listed = await peopleSigningIn(ctx.store, ctx.now());
    expect(listed.find((p) => p.id === person.id)).toMatchObject({
      ...{ roles: ['auditor'], hasPassword: true, hasCode: false, hasPasskey: false, signsOn: false },
      sessions: ['password'],
    });
  });
});
