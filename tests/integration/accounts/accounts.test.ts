import { afterAll, describe, expect, it } from 'vitest';
import { accountOf, endSession, listSessions, sessionId } from '../../../src/server/accounts/session.ts';
import { PASSWORD, signIn, testAccount, testContext } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());
const from = { address: '198.18.0.7', userAgent: 'Mozilla/5.0 (X11; Linux x86_64) Chrome/120' };
const attempt = (email: string, password: string, address = from.address) =>
  signIn(ctx, { ...from, email, password, address });

describe('a session', () => {
  it('begins with the right password, is listed, and ends', async () => {
    const account = await testAccount(ctx);
    const { token } = await attempt(account.email.toUpperCase(), PASSWORD);
    expect(await accountOf(ctx, token)).toEqual(account);
    const [session] = await listSessions(ctx, account.id);
    expect(session).toMatchObject({
      id: sessionId(token),
      browser: 'Chrome on Linux',
      address: '198.18.0.0',
    });
    await endSession(ctx, account, sessionId(token));
    expect(await accountOf(ctx, token)).toBeUndefined();
  });

  it('is only ended by its owner', async () => {
    const owner = await testAccount(ctx);
    const other = await testAccount(ctx);
    const { token } = await attempt(owner.email, PASSWORD);
    await expect(endSession(ctx, other, sessionId(token))).rejects.toThrow(/already ended/);
    expect(await accountOf(ctx, token)).toBeDefined();
  });

  it('ends by itself when it is not used', async () => {
    const account = await testAccount(ctx);
    ctx.at('2026-03-28T20:00:00Z');
    const { token } = await attempt(account.email, PASSWORD);
    // Over a change to summer time: an instant, not a wall clock, counts.
    ctx.at('2026-03-29T03:59:00Z');
    expect(await accountOf(ctx, token)).toBeDefined();
    ctx.at('2026-03-29T12:30:00Z');
    expect(await accountOf(ctx, token)).toBeUndefined();
    ctx.at(new Date().toISOString());
  });
});
