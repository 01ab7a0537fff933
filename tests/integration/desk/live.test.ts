import { afterAll, describe, expect, it } from 'vitest';
import { record } from '../../../src/server/evidence/ledger.ts';
import { deskState } from '../../../src/server/desk/desk-state.ts';
import { liveStream } from '../../../src/server/desk/live.ts';
import { RecentChanges } from '../../../src/server/desk/recent-changes.ts';
import { putOnToday, takeOffToday } from '../../../src/server/desk/today.ts';
import { PASSWORD, signIn, testAccount, testContext, unique } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());
const entry = (object: string, objectId: string) => ({
  actor: 'system' as const,
  action: 'test.change',
  object,
  objectId,
  detail: {},
});

describe('recent changes', () => {
  it('tells who begins to listen what was changed shortly before, which may have been read earlier', async () => {
    const [old, lately] = [unique('old'), unique('lately')];
    const now = ctx.now();
    await record(ctx.store, new Date(now.getTime() - 60_000), entry('test', old));
    await record(ctx.store, new Date(now.getTime() - 3000), entry('test', lately));
    const recent = new RecentChanges();
    const ids = (await recent.look(ctx.store, now)).map((c) => c.id);
    expect(ids).toContain(lately);
    expect(ids).not.toContain(old);
    expect(recent.lately().map((c) => c.id)).toContain(lately);
    // And those who come later, too, as long as it may be news to them.
    await recent.look(ctx.store, new Date(now.getTime() + 60_000));
    expect(recent.lately()).toEqual([]);
  });

  it('tells each entry once, also one whose transaction ended late', async () => {
    const recent = new RecentChanges();
    const look = async () => (await recent.look(ctx.store, ctx.now())).filter((c) => c.object === 'test');
    await record(ctx.store, ctx.now(), entry('test', 'before'));
    expect((await look()).at(-1)).toEqual({ object: 'test', id: 'before' });
    expect(await look()).toEqual([]);
    let release = () => {};
    const held = new Promise<void>((done) => (release = done));
    let begun = () => {};
    const began = new Promise<void>((done) => (begun = done));
    const late = ctx.store.transaction(async (tx) => {
      await record(tx, ctx.now(), entry('test', 'late'));
      begun();
      await held;
    });
    await began;
    await record(ctx.store, ctx.now(), entry('test', 'a'));
    expect(await look()).toEqual([{ object: 'test', id: 'a' }]);
    expect(await look()).toEqual([]);
    release();
    await late;
    ctx.at(new Date(ctx.now().getTime() + 5000).toISOString());
    expect(await look()).toEqual([{ object: 'test', id: 'late' }]);
    // What was told is forgotten by and by, and not told again.
    for (const seconds of [20, 40]) {
      ctx.at(new Date(ctx.now().getTime() + seconds * 1000).toISOString());
      expect(await look()).toEqual([]);
    }
    await record(ctx.store, ctx.now(), entry('test', 'b'));
    expect(await look()).toEqual([{ object: 'test', id: 'b' }]);
    ctx.at(new Date().toISOString());
  });
});

describe('the stream of a desk', () => {
  it('tells what its account may see: objects that changed, items for itself', async () => {
    const listen = async (role: 'officer' | 'site manager') => {
      const account = await testAccount(ctx, role);
      const { token } = await signIn(ctx, {
        email: account.email,
        password: PASSWORD,
        address: '100.66.0.1',
        userAgent: 'x',
      });
      const abort = new AbortController();
      const reader = liveStream(ctx, account, token, abort.signal).getReader();
      let heard = '';
      void (async () => {
        for (;;) {
          const { value, done } = await reader.read().catch(() => ({ value: undefined, done: true }));
          if (done) return;
          heard += new TextDecoder().decode(value);
        }
      })();
      return { account, heard: () => heard, stop: () => abort.abort() };
    };
    const officer = await listen('officer');
    const manager = await listen('site manager');
    await expect
      .poll(() => [officer.heard(), manager.heard()].every((h) => h.includes('event: desk')), {
        timeout: 10_000,
      })
      .toBe(true);
    const id = unique('crew');
    await record(ctx.store, ctx.now(), entry('detector', id));
    await record(ctx.store, ctx.now(), entry('site', id));
    await expect.poll(() => manager.heard(), { timeout: 10_000 }).toContain(`{"object":"site","id":"${id}"}`);
    expect(officer.heard()).toContain(`{"object":"detector","id":"${id}"}`);
    expect(manager.heard()).not.toContain(`{"object":"detector","id":"${id}"}`);
    const { needsHand, today } = await deskState(ctx, manager.account);
    const { needsHand: officers } = await deskState(ctx, officer.account);
    await putOnToday(ctx.store, {
      kind: 'process',
      key: id,
      action: 'websites.read',
      words: 'For the manager alone',
      detail: '',
      link: '/today',
      since: ctx.now(),
      assignedTo: manager.account.id,
    });
    await expect.poll(() => manager.heard(), { timeout: 10_000 }).toContain(`"needsHand":${needsHand + 1}`);
    expect((await deskState(ctx, manager.account)).today).not.toBe(today);
    expect((await deskState(ctx, officer.account)).needsHand).toBe(officers);
    await takeOffToday(ctx.store, 'process', id);
    officer.stop();
    manager.stop();
  });
});
