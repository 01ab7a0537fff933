import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { ACCOUNT_SCOPE } from '../../../src/server/accounts/account-scope.ts';
import { findAccount } from '../../../src/server/accounts/account.ts';
import { accountOf } from '../../../src/server/accounts/session.ts';
import { deskState } from '../../../src/server/desk/desk-state.ts';
import { find } from '../../../src/server/desk/find.ts';
import { cancelJob } from '../../../src/server/desk/job-authority.ts';
import { liveStream } from '../../../src/server/desk/live.ts';
import { scopeOptions } from '../../../src/server/desk/scope-options.ts';
import { dismissItem, putOnToday, todayItems } from '../../../src/server/desk/today.ts';
import { record } from '../../../src/server/evidence/ledger.ts';
import { addJob } from '../../../src/server/jobs/job.ts';
import { editObject, readObject } from '../../../src/server/rules/plain-object.ts';
import { listSites } from '../../../src/server/websites/sites/sites.ts';
import { moveNotice } from '../notice.ts';
import { OFFICER, PASSWORD, signIn, testAccount, testContext, testSite, unique } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());

let mine: Awaited<ReturnType<typeof testSite>>;
let others: Awaited<ReturnType<typeof testSite>>;
let manager: Account;
beforeAll(async () => {
  mine = await testSite(ctx);
  others = await testSite(ctx);
  const { id } = await testAccount(ctx, 'site manager');
  await keep(id, { site: [String(mine.id)] });
  manager = (await findAccount(ctx.store, id)).account;
});

async function keep(id: number, content: Record<string, string[]>): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { content: base, revision } = await readObject(tx, ACCOUNT_SCOPE, id);
    await editObject(tx, ctx.now(), ACCOUNT_SCOPE, OFFICER.id, id, { revision, base, content });
  });
}

const addWork = (site: number) =>
  ctx.store.transaction((tx) =>
    addJob(tx, ctx.now(), {
      kind: 'install-check',
      title: unique('Work'),
      about: { object: 'site', id: site },
      within: [{ kind: 'site', id: String(site) }],
      payload: {},
      createdBy: null,
    }),
  );
const item = (key: string, site: number) => ({
  kind: 'leak' as const,
  key,
  action: 'websites.read' as const,
  words: key,
  detail: '',
  link: '/websites',
  since: ctx.now(),
  dismissable: true,
  within: [{ kind: 'site', id: String(site) }],
});

describe('somebody who looks after one site', () => {
  it('is known to by their session, at once', async () => {
    const { token } = await signIn(ctx, {
      email: manager.email,
      password: PASSWORD,
      address: '192.0.2.7',
      userAgent: 'x',
    });
    expect((await accountOf(ctx, token))?.scope).toEqual({ site: [String(mine.id)] });
    await keep(manager.id, { site: [] });
    expect((await accountOf(ctx, token))?.scope).toEqual({ site: [] });
    await keep(manager.id, {});
    expect((await accountOf(ctx, token))?.scope).toBeUndefined();
    await keep(manager.id, { site: [String(mine.id)] });
  });

  it('lists and finds that one', async () => {
    const hosts = (await listSites(ctx.store, manager, {}, undefined, 50)).rows.map((s) => s.host);
    expect(hosts).toEqual([mine.host]);
    expect(await listSites(ctx.store, { scope: { site: [] } }, {}, undefined, 50)).toMatchObject({
      rows: [],
      total: 0,
    });
    expect(await find(ctx, manager, others.host)).toEqual([]);
    expect((await find(ctx, manager, mine.host)).map((f) => f.words)).toEqual([mine.host]);
  });

  it('has on Today, and counted in the bar, what is about it', async () => {
    const [here, there] = [unique('here'), unique('there')];
    const before = await deskState(ctx, manager);
    await ctx.store.transaction((tx) => putOnToday(tx, item(here, mine.id), item(there, others.id)));
    const words = async () => (await todayItems(ctx, manager)).map((i) => i.words);
    expect(await words()).toContain(here);
    expect(await words()).not.toContain(there);
    const after = await deskState(ctx, manager);
    expect(after.needsHand).toBe(before.needsHand + 1);
    expect(after.today).not.toBe(before.today);
    await expect(dismissItem(ctx, manager, 'leak', there)).rejects.toMatchObject({ status: 403 });
    await dismissItem(ctx, manager, 'leak', here);
    expect(await words()).not.toContain(here);
  });

  it('is told of work on it, of its rules in force, and not of the ledger', async () => {
    const [here, there] = [await addWork(mine.id), await addWork(others.id)];
    const before = await deskState(ctx, manager);
    const ids = before.jobs.map((j) => j.id);
    expect(ids).toContain(here);
    expect(ids).not.toContain(there);
    expect(before.ledger).toBeNull();
    await expect(cancelJob(ctx, manager, there)).rejects.toMatchObject({ status: 404 });
    await cancelJob(ctx, manager, here);
    await moveNotice(ctx, OFFICER.id, others.host, 'put in force', 1);
    expect((await deskState(ctx, manager)).inForce).toBe(before.inForce);
    await moveNotice(ctx, OFFICER.id, mine.host, 'rehearse', 1);
    expect((await deskState(ctx, manager)).rehearsing).toBe(before.rehearsing + 1);
  });

  it('hears that something changed, never which of the others', async () => {
    const { token } = await signIn(ctx, {
      email: manager.email,
      password: PASSWORD,
      address: '192.0.2.7',
      userAgent: 'x',
    });
    const abort = new AbortController();
    const reader = liveStream(ctx, manager, token, abort.signal).getReader();
    let heard = '';
    const listening = (async () => {
      for (;;) {
        const { value, done } = await reader.read();
        if (done) return;
        heard += new TextDecoder().decode(value);
      }
    })();
    await expect.poll(() => heard, { timeout: 10_000 }).toContain('event: desk');
    const change = setInterval(
      () =>
        void record(ctx.store, ctx.now(), {
          actor: 'system',
          action: 'site.edit',
          object: 'site',
          objectId: others.id,
          detail: {},
        }),
      500,
    );
    await expect.poll(() => heard, { timeout: 10_000 }).toContain('{"object":"site","id":null}');
    clearInterval(change);
    expect(heard).not.toContain(`"id":"${others.id}"`);
    // What they look after changes: the stream ends, and begins anew with what they may see then.
    await keep(manager.id, { site: [String(mine.id), String(others.id)] });
    await listening;
    await keep(manager.id, { site: [String(mine.id)] });
  }, 30_000);
});

it('an officer answers for all of it, and nobody is kept to what there is not', async () => {
  const { id } = await testAccount(ctx);
  await expect(keep(id, { site: [String(mine.id)] })).rejects.toThrow('answers for all');
  await expect(keep(manager.id, { moon: ['1'] })).rejects.toMatchObject({ status: 400 });
  const choice = (await scopeOptions(ctx.store)).find((c) => c.kind === 'site');
  expect(choice).toMatchObject({ words: 'websites' });
  expect(choice?.options).toContainEqual({ id: String(mine.id), words: mine.host });
});
