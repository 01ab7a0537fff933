import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { builtIn } from '../../src/core/accounts/roles/held-role.ts';
import type { Account } from '../../src/core/accounts/authority.ts';
import { changePassword, endAllSessions, setDisabled } from '../../src/server/accounts/account-care.ts';
import { findAccount } from '../../src/server/accounts/account.ts';
import {
  accountOf,
  endSession,
  forgetOldSessions,
  isOpen,
  listSessions,
  sessionId,
} from '../../src/server/accounts/session.ts';
import { listEntries } from '../../src/server/evidence/ledger.ts';
import { addJob, findJob } from '../../src/server/jobs/job.ts';
import { endJob } from '../../src/server/jobs/runner.ts';
import { deskState } from '../../src/server/desk/desk-state.ts';
import { cancelJob, JOB_KINDS } from '../../src/server/desk/job-authority.ts';
import { dismissItem, putOnToday, todayItems } from '../../src/server/desk/today.ts';
import { PASSWORD, signIn, testAccount, testContext, unique } from '../integration/context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());

let account: Account;
let net = 0;
/** A network of its own for each test. */
let here = '';
beforeEach(async () => {
  ctx.at(new Date().toISOString());
  account = await testAccount(ctx);
  here = `100.64.${++net}.7`;
});
const later = (seconds: number) => ctx.at(new Date(ctx.now().getTime() + seconds * 1000).toISOString());
const attempt = (password: string, over: { email?: string; address?: string; device?: string } = {}) =>
  signIn(ctx, { email: account.email, address: here, userAgent: 'Firefox', ...over, password });
const status = (work: Promise<unknown>) =>
  work.then(
    () => 200,
    (e: { status?: number }) => e.status,
  );

describe('guessing a password', () => {
  it('says no without saying which part was wrong, waits longer each time, and stays open to the right one', async () => {
    expect(await status(attempt('x', { email: 'nobody@test.example' }))).toBe(401);
    for (let i = 0; i < 5; i++) expect(await status(attempt('wrong'))).toBe(401);
    expect(await status(attempt(PASSWORD))).toBe(429);
    later(2.1);
    expect(await status(attempt('wrong'))).toBe(401);
    later(2.1);
    expect(await status(attempt(PASSWORD))).toBe(429);
    later(2.1);
    expect(await status(attempt(PASSWORD))).toBe(200);
    // What was mistyped before is forgiven.
    expect(await status(attempt('wrong'))).toBe(401);
  });

  it.each([
    (e: string) => e.toUpperCase(),
    (e: string) => ` ${e} `,
    (e: string) => e.replace('@', '\u200b@'),
    (e: string) => e.replace('p', '\uff50'),
    (e: string) => `\ufeff${e}`,
  ])('counts for the account that is meant, however it is spelled (%#)', async (spell) => {
    for (let i = 0; i < 5; i++)
      expect(await status(attempt('wrong', i % 2 ? { email: spell(account.email) } : {}))).toBe(401);
    expect(await status(attempt(PASSWORD, { email: spell(account.email) }))).toBe(429);
    expect(await status(attempt(PASSWORD))).toBe(429);
  });

  it('never means an account that is spelled with another letter', async () => {
    for (const other of ['é', 'e\u0301']) {
      const email = account.email.replace('e', other);
      expect(await status(attempt(PASSWORD, { email }))).toBe(401);
    }
  });

  it('many times at once is no way around', async () => {
    const answers = await Promise.all(Array.from({ length: 60 }, () => status(attempt('wrong'))));
    expect(answers.filter((s) => s === 401).length).toBeLessThanOrEqual(6);
    // Whoever cannot be sure that it is one of few is held back.
    expect(answers.every((s) => s === 401 || s === 429)).toBe(true);
  });

  it('from one network tries no more than some accounts', async () => {
    const answers: (number | undefined)[] = [];
    for (let i = 0; i < 60; i++)
      answers.push(await status(attempt('x', { email: `${unique('nobody')}@test.example` })));
    expect(answers.filter((s) => s === 401)).toHaveLength(40);
    expect(answers.at(-1)).toBe(429);
  });

  it('from everywhere does not lock its owner out who comes with a known browser', async () => {
    const { device } = await attempt(PASSWORD);
    for (let i = 0; i < 90; i++) await status(attempt('wrong', { address: `11.${i}.1.1` }));
    expect(await status(attempt(PASSWORD, { address: '12.1.1.1' }))).toBe(429);
    expect(await status(attempt(PASSWORD, { address: '12.1.1.1', device }))).toBe(200);
    // The browser of one account is nothing to another.
    const other = await testAccount(ctx);
    for (let i = 0; i < 5; i++) await status(attempt('wrong', { email: other.email, device }));
    expect(await status(attempt(PASSWORD, { email: other.email, device }))).toBe(429);
    // With a known browser guessing is held back, too.
    for (let i = 0; i < 10; i++) expect(await status(attempt('wrong', { device }))).toBe(401);
    expect(await status(attempt(PASSWORD, { device }))).toBe(429);
  });

  it('is on record, without what was typed', async () => {
    await status(attempt('my secret slip'));
    const mine = { action: 'session.refuse', object: 'account', objectId: String(account.id) };
    const { rows } = await listEntries(ctx.store, mine, undefined, 5);
    expect(rows).toMatchObject([{ detail: { device: 'unknown' } }]);
    expect(JSON.stringify(rows[0])).not.toMatch(/slip|test\.example|100\.64/);
  });

  it('is forgotten after a while', async () => {
    for (let i = 0; i < 9; i++) await status(attempt('wrong'));
    expect(await status(attempt(PASSWORD))).toBe(429);
    later(16 * 60);
    await forgetOldSessions(ctx);
    expect(await status(attempt(PASSWORD))).toBe(200);
  });
});

describe('a password', () => {
  it('is changed by its owner alone, and ends the other sessions', async () => {
    const { token: other } = await attempt(PASSWORD);
    const { token, others } = await attempt(PASSWORD);
    expect(others).toBe(1);
    const change = (current: string, next: string) =>
      changePassword(ctx, account, { current, next, session: sessionId(token), address: here });
    await expect(change('wrong', 'harbour lights at night')).rejects.toMatchObject({
      fields: [{ field: 'current' }],
    });
    await expect(change(PASSWORD, 'short')).rejects.toMatchObject({ fields: [{ field: 'next' }] });
    await expect(change(PASSWORD, PASSWORD)).rejects.toMatchObject({ fields: [{ field: 'next' }] });
    expect(await change(PASSWORD, 'harbour lights at night')).toEqual({ ended: 1 });
    expect(await accountOf(ctx, token)).toBeDefined();
    expect(await accountOf(ctx, other)).toBeUndefined();
    expect(await status(attempt(PASSWORD))).toBe(401);
    expect(await status(attempt('harbour lights at night'))).toBe(200);
  });

  it('cannot be guessed by whoever sits at an open desk', async () => {
    const { token } = await attempt(PASSWORD);
    const guess = () =>
      changePassword(ctx, account, {
        current: 'wrong',
        next: 'harbour lights at night',
        session: sessionId(token),
        address: here,
      });
    for (let i = 0; i < 10; i++) expect(await status(guess())).toBe(400);
    expect(await status(guess())).toBe(429);
  });
});

describe('an account', () => {
  it('that is disabled is out at once, everywhere, and says so only to its owner', async () => {
    const officer = await testAccount(ctx);
    const { token } = await attempt(PASSWORD);
    await setDisabled(ctx, officer, account.id, true);
    expect(await accountOf(ctx, token)).toBeUndefined();
    expect(await isOpen(ctx, token)).toBe(false);
    expect(await status(attempt('wrong'))).toBe(401);
    expect(await status(attempt(PASSWORD))).toBe(403);
    await setDisabled(ctx, officer, account.id, false);
    expect(await status(attempt(PASSWORD))).toBe(200);
    const { rows } = await listEntries(ctx.store, { objectId: String(account.id) }, undefined, 20);
    expect(rows.map((r) => r.action)).toEqual(expect.arrayContaining(['account.disable', 'account.enable']));
  });

  it('is not disabled by itself, nor by one who was disabled a moment ago', async () => {
    const [one, two] = [await testAccount(ctx), await testAccount(ctx)];
    await expect(setDisabled(ctx, one, one.id, true)).rejects.toMatchObject({ status: 400 });
    const both = await Promise.allSettled([
      setDisabled(ctx, one, two.id, true),
      setDisabled(ctx, two, one.id, true),
    ]);
    expect(both.map((b) => b.status).toSorted()).toEqual(['fulfilled', 'rejected']);
    const states = await Promise.all([one, two].map((a) => findAccount(ctx.store, a.id)));
    expect(states.filter((s) => s.disabledAt === null)).toHaveLength(1);
  });

  it('loses all its sessions when an officer ends them, and nobody else’s', async () => {
    const officer = await testAccount(ctx);
    const other = await testAccount(ctx);
    const { token } = await attempt(PASSWORD);
    await attempt(PASSWORD);
    const { token: others } = await attempt(PASSWORD, { email: other.email });
    expect(await endAllSessions(ctx, officer, account.id)).toEqual({ ended: 2 });
    expect(await accountOf(ctx, token)).toBeUndefined();
    expect(await accountOf(ctx, others)).toBeDefined();
    expect(await listSessions(ctx, account.id)).toEqual([]);
    await expect(endSession(ctx, other, sessionId(token))).rejects.toMatchObject({ status: 404 });
  });
});

describe('what one may not see', () => {
  const job = (kind: string) =>
    ctx.store.transaction((tx) =>
      addJob(tx, ctx.now(), {
        kind,
        title: unique('Job'),
        about: { object: 'test', id: unique('id') },
        payload: {},
        createdBy: null,
      }),
    );

  it('one is not told: not on the strip, not on Today', async () => {
    const reviewer = await testAccount(ctx, 'access reviewer');
    const steward = await testAccount(ctx, 'data steward');
    const check = await job('install-check');
    const training = await job('train-detector');
    const kind = { ...JOB_KINDS.get('train-detector')!, ended: async () => {} };
    await ctx.store.transaction(async (tx) =>
      endJob(tx, ctx, kind, (await findJob(tx, training))!, { how: 'failed', error: 'x' }),
    );
    const seen = async (who: Account) => (await deskState(ctx, who)).jobs.map((j) => j.id);
    expect(await seen(account)).toEqual(expect.arrayContaining([check, training]));
    expect(await seen(steward)).toEqual(expect.arrayContaining([check, training]));
    expect(await seen(reviewer)).toEqual([]);
    const today = async (who: Account) => (await todayItems(ctx, who)).map((i) => i.kind);
    expect(await today(account)).toContain('failure');
    expect(await today(reviewer)).toEqual([]);
    expect((await deskState(ctx, { ...reviewer, roles: [builtIn('data steward')] })).ledger).not.toBeNull();
    expect((await deskState(ctx, { ...reviewer, roles: [builtIn('request handler')] })).ledger).toBeNull();
  });

  it('one does not stop: only who may start a job may cancel it', async () => {
    const steward = await testAccount(ctx, 'data steward');
    const manager = await testAccount(ctx, 'site manager');
    const reviewer = await testAccount(ctx, 'access reviewer');
    const check = await job('install-check');
    expect(await status(cancelJob(ctx, steward, check))).toBe(403);
    expect(await status(cancelJob(ctx, reviewer, check))).toBe(404);
    expect(await status(cancelJob(ctx, manager, check))).toBe(200);
    const training = await job('train-detector');
    expect(await status(cancelJob(ctx, manager, training))).toBe(404);
    expect(await status(cancelJob(ctx, steward, training))).toBe(200);
  });

  it('one does not take off Today', async () => {
    const key = unique('worker');
    await putOnToday(ctx.store, {
      kind: 'process',
      key,
      action: 'accounts.edit',
      words: `${key} ended`,
      detail: '',
      link: '/today',
      since: ctx.now(),
      dismissable: true,
    });
    const auditor = await testAccount(ctx, 'auditor');
    const told = async (who: Account) => (await todayItems(ctx, who)).some((i) => i.words === `${key} ended`);
    expect([await told(account), await told(auditor)]).toEqual([true, false]);
    expect(await status(dismissItem(ctx, auditor, 'process', key))).toBe(403);
    expect(await status(dismissItem(ctx, account, 'process', key))).toBe(200);
    expect(await told(account)).toBe(false);
  });
});
