import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { checkedLately } from '../../../src/server/desk/checked.ts';
import { deskState } from '../../../src/server/desk/desk-state.ts';
import { sinceVisit, visit } from '../../../src/server/desk/since-visit.ts';
import { putOnToday, takeOffToday, type NewItem } from '../../../src/server/desk/today.ts';
import { keepTodayDay, todayTrends } from '../../../src/server/desk/today-days.ts';
import { listToday, type TodayPart } from '../../../src/server/desk/today-list.ts';
import { handOn, putOff, takeBack, takeUpAgain, whoCouldHave } from '../../../src/server/desk/today-own.ts';
import { record } from '../../../src/server/evidence/ledger.ts';
import { testAccount, testContext } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());

let officer: Account;
let steward: Account;
let auditor: Account;
beforeEach(async () => {
  ctx.at('2026-12-01T09:00:00Z');
  for (const table of [
    'today_item',
    'today_count',
    'today_past',
    'today_handed',
    'today_put_off',
    'today_day',
  ])
    await ctx.store.run(`DELETE FROM ${table}`);
  officer = await testAccount(ctx);
  steward = await testAccount(ctx, 'data steward');
  auditor = await testAccount(ctx, 'auditor');
});

const item = (key: string, more: Partial<NewItem> = {}): NewItem => ({
  ...{ kind: 'failure', key, action: 'holdings.read', words: `The ${key}`, detail: '', link: '/x' },
  ...{ since: '2026-11-30T09:00:00Z', dismissable: true },
  ...more,
});
const put = (...items: readonly NewItem[]) => ctx.store.transaction((tx) => putOnToday(tx, ...items));
const keys = async (account: Account, part: TodayPart = 'mine') =>
  (await listToday(ctx, account)).filter((i) => i.part === part).map((i) => i.key);
const badge = async (account: Account) => (await deskState(ctx, account)).needsHand;
const off = (account: Account, key: string, until: string) =>
  putOff(ctx, account, 'failure', key, new Date(until));

describe('the list of Today', () => {
  it('has what is due soon before what costs more and has time, and says why', async () => {
    await put(
      item('late', { kind: 'request late', due: '2026-11-29T00:00:00Z' }),
      item('far', { kind: 'leak' }),
      item('near', { kind: 'measure due', due: '2026-12-01T12:00:00Z' }),
      item('plain'),
    );
    const all = await listToday(ctx, officer);
    expect(all.map((i) => i.key)).toEqual(['late', 'far', 'near', 'plain']);
    expect(all[0]?.steps.map((s) => s.value)).toEqual([48, 40]);
    for (const i of all) expect(i.steps.reduce((n, s) => n + s.value, 0)).toBe(i.weight);
  });

  it('offers what one act does to those alone who may do it', async () => {
    const act = {
      ...{ words: 'Read it again', done: 'It is read.', path: '/api/x', body: { n: 1 } },
      needs: 'holdings.survey',
    } as const;
    await put(item('a', { act }));
    expect((await listToday(ctx, officer))[0]?.act).toEqual({
      ...{ words: 'Read it again', done: 'It is read.', path: '/api/x', body: { n: 1 } },
    });
    expect((await listToday(ctx, auditor))[0]?.act).toBeNull();
  });

  it('shows what others have by themselves to who may see the team, and to nobody else', async () => {
    await put(item('theirs', { assignedTo: steward.id }), item('all'));
    expect(await keys(officer, 'team')).toEqual(['theirs']);
    expect(await keys(officer)).toEqual(['all']);
    expect((await keys(steward)).toSorted()).toEqual(['all', 'theirs']);
    expect((await listToday(ctx, auditor)).map((i) => i.key)).toEqual(['all']);
  });
});

describe('what is put off', () => {
  it('is out of sight, and out of the count, for who put it off alone, until its moment', async () => {
    await put(item('a'), item('b'));
    await off(officer, 'a', '2026-12-03T00:00:00Z');
    expect(await keys(officer)).toEqual(['b']);
    expect(await keys(officer, 'put off')).toEqual(['a']);
    expect([await badge(officer), await badge(steward)]).toEqual([1, 2]);
    ctx.at('2026-12-03T00:00:01Z');
    expect((await keys(officer)).toSorted()).toEqual(['a', 'b']);
    expect(await badge(officer)).toBe(2);
  });

  it('comes back at once where it says something else, and not where it says the same', async () => {
    await put(item('a'));
    await off(officer, 'a', '2026-12-03T00:00:00Z');
    await put(item('a', { detail: '29 hours left' }));
    await off(officer, 'a', '2026-12-03T00:00:00Z');
    await put(item('a', { detail: '28 hours left', since: '2026-11-30T10:00:00Z' }));
    expect(await keys(officer)).toEqual([]);
    await put(item('a', { words: 'The a, twice' }));
    expect(await keys(officer)).toEqual(['a']);
    expect(await badge(officer)).toBe(1);
  });

  it('can be taken up again, and is forgotten with what it was about', async () => {
    await put(item('a'));
    await off(officer, 'a', '2026-12-03T00:00:00Z');
    await takeUpAgain(ctx, officer, 'failure', 'a');
    expect(await keys(officer)).toEqual(['a']);
    await off(officer, 'a', '2026-12-03T00:00:00Z');
    await ctx.store.transaction((tx) => takeOffToday(tx, 'failure', 'a'));
    await put(item('a'));
    expect(await keys(officer)).toEqual(['a']);
  });

  it.each<[string, string, string | undefined, RegExp]>([
    ['into the past', '2026-12-01T08:00:00Z', undefined, /day to come/],
    ['for too long', '2027-06-01T00:00:00Z', undefined, /within 90 days/],
    [
      'beyond its time',
      '2026-12-06T00:00:00Z',
      '2026-12-05T00:00:00Z',
      /due on 5 Dec 2026: choose a day before/,
    ],
    ['when it is late', '2026-12-02T00:00:00Z', '2026-11-20T00:00:00Z', /cannot wait/],
  ])('is refused %s', async (_, until, due, message) => {
    await put(item('a', due ? { due } : {}));
    await expect(off(officer, 'a', until)).rejects.toMatchObject({
      fields: [{ field: 'until', message: expect.stringMatching(message) }],
    });
    expect(await keys(officer)).toEqual(['a']);
  });

  it('is refused of what one may not see, or what is not there', async () => {
    await put(item('a', { action: 'cases.incidents' }));
    await expect(off(auditor, 'a', '2026-12-03T00:00:00Z')).rejects.toMatchObject({ status: 403 });
    await expect(off(officer, 'none', '2026-12-03T00:00:00Z')).rejects.toMatchObject({ status: 404 });
  });
});

describe('what is handed on', () => {
  it('is with one person, and counted for them alone', async () => {
    await put(item('a'), item('b'));
    await handOn(ctx, officer, 'failure', 'a', steward.id, 'Your share');
    expect([await keys(officer), await keys(officer, 'team')]).toEqual([['b'], ['a']]);
    expect((await keys(steward)).toSorted()).toEqual(['a', 'b']);
    expect([await badge(officer), await badge(steward), await badge(auditor)]).toEqual([1, 2, 1]);
    const given = (await listToday(ctx, steward)).find((i) => i.key === 'a');
    expect(given?.handedBy).toEqual({ name: officer.name, words: 'Your share', mine: false });
    await takeBack(ctx, steward, 'failure', 'a');
    expect((await keys(officer)).toSorted()).toEqual(['a', 'b']);
  });

  it('goes to those alone who may do it, and never to oneself', async () => {
    await put(item('a', { action: 'cases.incidents' }));
    const people = (await whoCouldHave(ctx, officer, 'failure', 'a')).map((p) => p.id);
    expect(people).not.toContain(officer.id);
    expect(people).not.toContain(auditor.id);
    for (const to of [officer.id, auditor.id, 999_999])
      await expect(handOn(ctx, officer, 'failure', 'a', to, '')).rejects.toMatchObject({
        fields: [{ field: 'to' }],
      });
    await put(item('mine', { assignedTo: officer.id }));
    await expect(handOn(ctx, officer, 'failure', 'mine', steward.id, '')).rejects.toMatchObject({
      status: 409,
    });
  });

  it('is taken back by who gave or has it, or who leads, and by nobody else', async () => {
    await put(item('a'));
    await handOn(ctx, auditor, 'failure', 'a', steward.id, '');
    const other = await testAccount(ctx, 'data steward');
    await expect(takeBack(ctx, other, 'failure', 'a')).rejects.toMatchObject({ status: 403 });
    await takeBack(ctx, officer, 'failure', 'a');
    await expect(takeBack(ctx, officer, 'failure', 'a')).rejects.toMatchObject({ status: 404 });
    const { n } = (await ctx.store.one(
      z.object({ n: z.coerce.number() }),
      "SELECT COUNT(*) AS n FROM ledger_entry WHERE action IN ('today.hand-on', 'today.take-back') AND object_id = 'a' AND at >= '2026-12-01'",
    )) ?? { n: 0 };
    expect(n).toBeGreaterThanOrEqual(2);
  });

  it('is over with what it was about: what comes again is everybody’s', async () => {
    await put(item('a'));
    await handOn(ctx, officer, 'failure', 'a', steward.id, '');
    await ctx.store.transaction((tx) => takeOffToday(tx, 'failure', 'a'));
    await put(item('a'));
    expect(await keys(officer)).toEqual(['a']);
  });
});

describe('what changed since a visit', () => {
  it('is counted from when somebody left, not from a moment ago', async () => {
    expect(await visit(ctx, officer)).toBeNull();
    ctx.at('2026-12-01T09:20:00Z');
    expect(await visit(ctx, officer)).toBeNull();
    ctx.at('2026-12-02T08:00:00Z');
    expect(await visit(ctx, officer)).toBe('2026-12-01T09:20:00.000Z');
    ctx.at('2026-12-02T08:10:00Z');
    expect(await visit(ctx, officer)).toBe('2026-12-01T09:20:00.000Z');
  });

  it('names what came, what ended and what others changed, as far as one may know', async () => {
    // What ends is told by the clock of the database.
    ctx.at(new Date().toISOString());
    const ago = (hours: number) => new Date(Date.now() - hours * 3_600_000).toISOString();
    await ctx.store.run('REPLACE INTO today_visit (account_id, last_at, before_at) VALUES (?, ?, ?)', [
      officer.id,
      ago(0).replace('T', ' ').replace('Z', ''),
      ago(20).replace('T', ' ').replace('Z', ''),
    ]);
    await put(
      item('old', { since: ago(40) }),
      item('new', { since: ago(2) }),
      item('done', { since: ago(50) }),
      item('secret', { since: ago(1), action: 'accounts.manage' as NewItem['action'] }),
    );
    await ctx.store.run("UPDATE today_item SET came_at = since WHERE item_key = 'old'");
    // It is said again: it did not come anew for that. And one that is late now is not done.
    await put(
      item('old', { since: ago(40), words: 'The old' }),
      item('turned', { since: ago(90), link: '/t' }),
    );
    await ctx.store.transaction((tx) => takeOffToday(tx, 'failure', 'turned'));
    await put(
      item('turned', { kind: 'request late', since: ago(90), link: '/t', words: 'The turned, late' }),
    );
    await ctx.store.transaction((tx) => takeOffToday(tx, 'failure', 'done'));
    const write = (actor: number, object: string) =>
      ctx.store.transaction((tx) =>
        record(tx, ctx.now(), { actor, action: 'detector.edit', object, objectId: '7', detail: {} }),
      );
    await write(steward.id, 'detector');
    await write(steward.id, 'detector');
    await write(officer.id, 'detector');
    const { came, ended, changed } = await sinceVisit(ctx, officer);
    expect(came.map((i) => i.words)).toContain('The new');
    expect(came.map((i) => i.words)).toContain('The turned, late');
    expect(came.map((i) => i.words)).not.toContain('The old');
    expect(ended.map((i) => i.words)).toEqual(['The done']);
    const detectors = changed.find((c) => c.object === 'detector');
    expect(detectors).toMatchObject({ changes: 2, objects: 1 });
    await ctx.store.run(
      'REPLACE INTO today_visit SELECT ?, last_at, before_at FROM today_visit WHERE account_id = ?',
      [auditor.id, officer.id],
    );
    expect((await sinceVisit(ctx, auditor)).came.map((i) => i.words)).not.toContain('The secret');
  });
});

describe('how many there were', () => {
  it('is kept day by day, down to nothing, and told to those who may see it', async () => {
    await put(item('a'), item('b'), item('c', { action: 'cases.incidents' }));
    await keepTodayDay(ctx);
    ctx.at('2026-12-02T09:00:00Z');
    await ctx.store.transaction((tx) => takeOffToday(tx, 'failure', 'a'));
    await keepTodayDay(ctx);
    await keepTodayDay(ctx);
    ctx.at('2026-12-03T09:00:00Z');
    for (const key of ['b', 'c']) await ctx.store.transaction((tx) => takeOffToday(tx, 'failure', key));
    await keepTodayDay(ctx);
    const days = async (account: Account) =>
      (await todayTrends(ctx, account, 30)).find((t) => t.kind === 'failure')?.days.map((d) => d.items);
    expect(await days(officer)).toEqual([3, 2, 0]);
    expect(await days(steward)).toEqual([2, 1, 0]);
  });

  it('says what was looked at, to those who may know of it', async () => {
    const of = async (account: Account) => (await checkedLately(ctx, account)).map((c) => c.many);
    expect(await of(officer)).toEqual(expect.arrayContaining(['sites', 'sources', 'ledger entries sealed']));
    for (const c of await checkedLately(ctx, officer)) expect(c.count).toBeGreaterThanOrEqual(0);
    const clerk = await testAccount(ctx, 'site manager');
    expect(await of(clerk)).toContain('sites');
    expect(await of(clerk)).not.toContain('sources');
  });
});
