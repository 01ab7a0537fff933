import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { ActivityEvent } from '../../../src/core/protection/activity/event.ts';
import { BUILT_IN } from '../../../src/core/protection/lookouts/built-in.ts';
import { firstLookout, type LookoutContent } from '../../../src/core/protection/lookouts/lookout-content.ts';
import type { WatchedActs } from '../../../src/core/protection/lookouts/lookout.ts';
import { firstViewRule } from '../../../src/core/protection/view/view-rule.ts';
import { parseLens } from '../../../src/core/lens/lens-text.ts';
import { Watcher } from '../../../src/core/protection/lookouts/watcher.ts';
import type { Context } from '../../../src/server/context.ts';
import { record, seal } from '../../../src/server/evidence/ledger.ts';
import { tellOfTheDesk } from '../../../src/server/protection/activity/desk-feed.ts';
import { endOldEvents, sayDaysKept } from '../../../src/server/protection/activity/activity-kept.ts';
import { listEvents } from '../../../src/server/protection/activity/events.ts';
import { takeEvents } from '../../../src/server/protection/activity/take-events.ts';
import {
  actOnAlert,
  actOnAlerts,
  alertTrends,
  countAlerts,
  listAlerts,
  viewAlert,
} from '../../../src/server/protection/alerts/alerts.ts';
import { showAlerts } from '../../../src/server/protection/alerts/raise-alert.ts';
import { addHandlingRule, HANDLING_RULE } from '../../../src/server/protection/handling/handling-rules.ts';
import { firstHandlingRule } from '../../../src/core/protection/handling/handling-rule.ts';
import { tellOfAlerts } from '../../../src/server/protection/alerts/tell-alerts.ts';
import { addHook, listHooks, stopHook } from '../../../src/server/protection/lookouts/hooks.ts';
import {
  addBuiltIn,
  addLookout,
  listLookouts,
  LOOKOUT,
  moveLookouts,
} from '../../../src/server/protection/lookouts/lookouts.ts';
import { readPeople } from '../../../src/server/protection/lookouts/people.ts';
import { lookoutOutlook } from '../../../src/server/protection/lookouts/tune-lookout.ts';
import { forgetSeen, watchNewEvents } from '../../../src/server/protection/lookouts/watch-events.ts';
import { viewRuleOutlook } from '../../../src/server/protection/view/view-outlook.ts';
import { addViewRule, listViewRules, VIEW_RULE } from '../../../src/server/protection/view/view-rules.ts';
import { removeDraft } from '../../../src/server/rules/rule-remove.ts';
import { moveRule } from '../../../src/server/rules/rule-moves.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { freshDatabase } from '../../fresh-database.ts';
import { testAccount } from '../context.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
let clock = Date.parse('2026-11-20T10:00:00.000Z');
let ctx: Context;
let officer: Account;

beforeAll(async () => {
  const { url, store } = await freshDatabase('yare_lookouts');
  ctx = {
    store,
    settings: readSettings({
      ...{ DATABASE_URL: url, SECRET_KEY: 'ab'.repeat(32), LOG_LEVEL: 'silent' },
      SMTP_URL: 'smtp://127.0.0.1:9',
      ALLOWED_PRIVATE: '127.0.0.1:9',
    }),
    now: () => new Date(clock),
  };
  officer = await testAccount(ctx);
}, 60_000);
afterAll(() => ctx.store.close());

const event = (at: number, over: Partial<ActivityEvent> = {}): ActivityEvent =>
  ActivityEvent.parse({
    ...{ id: randomBytes(16).toString('hex'), at: new Date(at).toISOString(), kind: 'device' },
    ...{ person: 'jonas@line.example', act: 'copy', channel: 'removable drive', item: { name: 'list.xlsx' } },
    ...over,
  });
const tell = async (...events: readonly ActivityEvent[]) => {
  const taken = await takeEvents(
    ctx,
    { kinds: ['device', 'mail', 'sign-in'], device: 0, aheadMs: 0 },
    events.map((e) => JSON.stringify(e)).join('\n'),
  );
  expect(taken.refused).toEqual([]);
  return taken;
};
async function lookoutInForce(content: LookoutContent): Promise<string> {
  const id = await ctx.store.transaction((tx) => addLookout(tx, ctx.now(), officer.id, content));
  await ctx.store.transaction((tx) => moveRule(tx, ctx.now(), LOOKOUT, officer.id, id, 'put in force', 1));
  return id;
}
const alertsOf = async (lookout: string) => (await listAlerts(ctx.store, { lookout }, undefined, 100)).rows;
const switchOff = (...ids: readonly string[]) => moveLookouts(ctx, officer.id, ids, 'retire');

describe('lookouts that ship', () => {
  it('are there once, as drafts; are switched on and off together, and never removed', async () => {
    await addBuiltIn(ctx);
    await addBuiltIn(ctx);
    const ids = Object.keys(BUILT_IN);
    const listed = await listLookouts(ctx);
    expect(listed.map((l) => l.id).toSorted()).toEqual(ids.toSorted());
    expect(listed.every((l) => l.builtIn && l.stage.state === 'draft')).toBe(true);
    await expect(removeDraft(ctx, LOOKOUT, officer.id, 'stopped-again', 1)).rejects.toThrow(
      'switched off, not removed',
    );
    expect(await moveLookouts(ctx, officer.id, ids, 'put in force')).toEqual({
      moved: ids.length,
      refused: [],
    });
    const off = await moveLookouts(ctx, officer.id, [...ids, 'nothing'], 'retire');
    expect(off).toEqual({
      moved: ids.length,
      refused: [{ id: 'nothing', why: expect.any(String) as string }],
    });
  });
});

describe('what lookouts raise', () => {
  it('is what the core raises over the same acts, in whatever parts they come in, by two workers at once', async () => {
    const content = firstLookout('Drives by the hour', {
      channels: ['removable drive'],
      when: { is: 'more than', count: 2, minutes: 60, by: 'person' },
    });
    const id = await lookoutInForce(content);
    clock += DAY;
    const people = ['ann@line.example', 'bo@line.example', 'cy@line.example'];
    const all = Array.from({ length: 240 }, (_, i) =>
      event(clock - 20 * HOUR + i * 5 * 60_000, {
        person: people[(i * 7) % 3] as string,
        channel: i % 4 === 0 ? 'mail' : 'removable drive',
        act: i % 4 === 0 ? 'send' : 'copy',
      }),
    );
    for (let from = 0; from < all.length; from += 37) await tell(...all.slice(from, from + 37));
    // The same once more, as after an answer that was lost.
    expect((await tell(...all.slice(0, 50))).taken).toBe(0);
    await Promise.all([watchNewEvents(ctx), watchNewEvents(ctx)]);
    const watcher = new Watcher(content.watch);
    const situationOf = await readPeople(ctx);
    const raised = all.flatMap((e) => watcher.see(e, 0, situationOf(e)) ?? []);
    expect(raised.length).toBeGreaterThan(10);
    const alerts = await alertsOf(id);
    expect(alerts.map((a) => a.key).toSorted()).toEqual([...new Set(raised.map((r) => r.key))].toSorted());
    for (const alert of alerts) {
      const viewed = await viewAlert(ctx, alert.id);
      const own = raised.filter((r) => r.key === alert.key);
      expect(viewed.steps.filter((s) => s.kind === 'raised' || s.kind === 'again')).toHaveLength(own.length);
      expect(viewed.events.map((e) => e.event.id).toSorted()).toEqual(
        own.flatMap((r) => r.events).toSorted(),
      );
      expect(viewed.acts).toBe(viewed.events.length);
    }
    await switchOff(id);
  });

  it('counts what was done before it was on, and raises for none of it', async () => {
    const person = 'dot@line.example';
    const early = Array.from({ length: 12 }, (_, i) => event(clock - 14 * DAY + i * DAY, { person }));
    await tell(...early);
    await watchNewEvents(ctx);
    const id = await lookoutInForce(
      firstLookout('Unusual', {
        channels: ['removable drive'],
        when: { is: 'unusual', days: 14, by: 'person' },
      }),
    );
    clock += 6 * HOUR;
    await tell(...Array.from({ length: 9 }, (_, i) => event(clock - HOUR + i * 1000, { person })));
    await watchNewEvents(ctx);
    const [alert, ...others] = await alertsOf(id);
    expect(others).toEqual([]);
    expect(alert?.because).toMatch(/^\d on one day, where \d\.\d a day are usual \(12 in 14 days\)/);
    // Told late, of before: it is counted, and nothing is raised.
    await tell(...Array.from({ length: 20 }, (_, i) => event(clock - 3 * DAY + i * 1000, { person })));
    await watchNewEvents(ctx);
    expect(await alertsOf(id)).toHaveLength(1);
    await switchOff(id);
    await forgetSeen(ctx);
    const seen = await ctx.store.one(
      z.object({ n: z.coerce.number() }),
      'SELECT COUNT(*) AS n FROM lookout_seen WHERE lookout = ?',
      [id],
    );
    expect(seen?.n).toBe(0);
  });

  it('is one alert for one cause while that is open, and another after it ended', async () => {
    const id = await lookoutInForce(
      firstLookout('Every stick', { channels: ['removable drive'], when: { is: 'every time' } }),
    );
    const twin = await lookoutInForce(
      firstLookout('Every copy', { acts: ['copy'], when: { is: 'every time' } }),
    );
    clock += HOUR;
    await tell(event(clock - 3000), event(clock - 2000));
    await watchNewEvents(ctx);
    const [first] = await alertsOf(id);
    expect(first).toMatchObject({ acts: 2, state: 'new', key: 'jonas@line.example' });
    if (!first) return;
    const viewed = await viewAlert(ctx, first.id);
    expect(viewed.ofOneCause.map((a) => a.name)).toEqual(['Every copy']);
    await actOnAlert(ctx, officer, first.id, { act: 'look into' });
    expect((await viewAlert(ctx, first.id)).assigned).toBe(officer.name);
    await expect(actOnAlert(ctx, officer, first.id, { act: 'look into' })).rejects.toThrow(
      'looked into already',
    );
    await expect(actOnAlert(ctx, officer, first.id, { act: 'assign', to: 99_999 })).rejects.toThrow(
      'may not look',
    );
    await actOnAlert(ctx, officer, first.id, { act: 'set aside', note: 'It was the fire drill.' });
    await tell(event(clock - 1000));
    await watchNewEvents(ctx);
    const now = await alertsOf(id);
    expect(now.map((a) => [a.state, a.acts])).toEqual([
      ['new', 1],
      ['set aside', 2],
    ]);
    expect((await viewAlert(ctx, now[0]?.id ?? 0)).before).toEqual({ raised: 1, setAside: 1 });
    const many = await actOnAlerts(ctx, officer, [now[0]?.id ?? 0, first.id], {
      act: 'solve',
      note: 'Asked him.',
    });
    expect(many).toMatchObject({ done: 1, refused: [{ id: first.id }] });
    const trends = await alertTrends(ctx, 30);
    expect(trends.byLookout.find((l) => l.lookout === id)).toMatchObject({
      raised: 2,
      solved: 1,
      setAside: 1,
    });
    expect(await countAlerts(ctx.store, { lookout: id, open: 'open' })).toBe(0);
    await switchOff(id, twin);
  });

  it('stands on Today while nobody looks into it: high ones each, the others together', async () => {
    await ctx.store.run("UPDATE alert SET state = 'solved' WHERE state IN ('new', 'looked into')");
    const every = (name: string, severity: LookoutContent['severity'], person: string) =>
      lookoutInForce({
        ...firstLookout(name, { who: [person], when: { is: 'every time' } }),
        severity,
      });
    const ids = [
      await every('High one', 'high', 'eve@line.example'),
      await every('Low one', 'low', 'fay@line.example'),
      await every('Medium one', 'medium', 'gil@line.example'),
    ];
    clock += HOUR;
    await tell(
      ...['eve', 'fay', 'gil'].map((n, i) => event(clock - 1000 + i, { person: `${n}@line.example` })),
    );
    await watchNewEvents(ctx);
    const today = () =>
      ctx.store.all(
        z.object({ words: z.string() }),
        "SELECT words FROM today_item WHERE kind = 'alert raised' ORDER BY words",
      );
    expect((await today()).map((t) => t.words)).toEqual(['2 other alerts', 'High one']);
    // Of very many grave ones none is left out: those that have no line of their own are counted.
    await ctx.store.transaction(async (tx) => {
      await tx.run(
        `INSERT INTO alert (by_kind, lookout, version, severity, category, event_key, raised_at, last_at, acts, because)
         SELECT by_kind, lookout, version, severity, category, CONCAT('x', seq), raised_at, last_at, 1, because
         FROM alert, seq_1_to_24 WHERE state = 'new' AND severity = 'high'`,
      );
      await showAlerts(tx);
    });
    const many = await today();
    expect(many).toHaveLength(21);
    expect(many.map((t) => t.words)).toContain('7 other alerts');
    await ctx.store.run("DELETE FROM alert WHERE event_key LIKE 'x%'");
    for (const id of ids)
      for (const a of await alertsOf(id)) await actOnAlert(ctx, officer, a.id, { act: 'look into' });
    expect(await today()).toEqual([]);
    await switchOff(...ids);
  });
});

describe('who is told', () => {
  const letters = (alert: number) =>
    ctx.store.all(
      z.object({ message_key: z.string() }),
      "SELECT message_key FROM outgoing_message WHERE object = 'alert' AND object_id = ? ORDER BY message_key",
      [String(alert)],
    );

  it('is told once, not in quiet hours, and no more often than was asked', async () => {
    await tellOfAlerts(ctx);
    const { id: hook } = await addHook(ctx, officer, { name: 'House', url: 'http://127.0.0.1:9/alerts' });
    await expect(addHook(ctx, officer, { name: 'House', url: 'http://127.0.0.1:9/x' })).rejects.toThrow(
      'called so',
    );
    const id = await lookoutInForce({
      ...firstLookout('At night', { acts: ['print'], when: { is: 'every time' } }),
      tell: {
        ...{ mail: ['ines@line.example', 'magnus@line.example'], hooks: [String(hook)], mostADay: 1 },
        quiet: { from: '20:00', to: '07:00', zone: 'Europe/Copenhagen' },
      },
    });
    clock = Date.parse('2026-12-10T22:00:00.000Z');
    await tell(event(clock - 1000, { act: 'print', channel: 'printer', person: 'h@line.example' }));
    await watchNewEvents(ctx);
    const [alert] = await alertsOf(id);
    if (!alert) throw new Error('Nothing was raised.');
    expect(await tellOfAlerts(ctx)).toBe(0);
    expect((await viewAlert(ctx, alert.id)).tellAt).toBe('2026-12-11T06:00:00.000Z');
    clock = Date.parse('2026-12-11T06:00:00.000Z');
    expect(await Promise.all([tellOfAlerts(ctx), tellOfAlerts(ctx)])).toContain(1);
    expect((await letters(alert.id)).map((l) => l.message_key)).toEqual([
      `alert ${alert.id} hook ${hook}`,
      `alert ${alert.id} ines@line.example`,
      `alert ${alert.id} magnus@line.example`,
    ]);
    expect((await viewAlert(ctx, alert.id)).steps.at(-1)).toMatchObject({
      kind: 'told',
      words: '2 letters and 1 webhook',
    });
    clock += HOUR;
    await tell(event(clock - 1000, { act: 'print', channel: 'printer', person: 'i@line.example' }));
    await watchNewEvents(ctx);
    await tellOfAlerts(ctx);
    const second = (await alertsOf(id)).find((a) => a.key === 'i@line.example');
    expect(await letters(second?.id ?? 0)).toEqual([]);
    expect((await viewAlert(ctx, second?.id ?? 0)).steps.at(-1)).toMatchObject({
      kind: 'not told',
      words: 'It told once that day already.',
    });
    await stopHook(ctx, officer, hook);
    expect(await listHooks(ctx.store)).toEqual([]);
    await switchOff(id);
  });
});

describe('what is done at the desk', () => {
  it('is told once each, of all areas, with who did it; and lookouts see it', async () => {
    await seal(ctx.store, ctx.now());
    await tellOfTheDesk(ctx);
    await watchNewEvents(ctx);
    await moveLookouts(ctx, officer.id, ['rules-switched-off', 'failed-sign-ins'], 'reopen');
    await moveLookouts(ctx, officer.id, ['rules-switched-off', 'failed-sign-ins'], 'put in force');
    clock += HOUR;
    const entry = (action: string, objectId: string | number, actor: number | 'system' = officer.id) => ({
      ...{ actor, action, object: action.split('.')[0] ?? '', objectId, detail: {} },
    });
    await ctx.store.transaction(async (tx) => {
      await record(tx, ctx.now(), entry('notice.pause', 7));
      // As a rule of two words is really paused.
      const rule = await addHandlingRule(
        tx,
        ctx.now(),
        officer.id,
        firstHandlingRule('Cards', { mail: 'stop' }),
      );
      await moveRule(tx, ctx.now(), HANDLING_RULE, officer.id, rule, 'put in force', 1);
      await moveRule(tx, ctx.now(), HANDLING_RULE, officer.id, rule, 'pause', 1);
      await record(tx, ctx.now(), entry('access-change.end', 3));
      await record(tx, ctx.now(), entry('consent.record', 'x'));
      for (let i = 0; i < 12; i++) await record(tx, ctx.now(), entry('session.refuse', officer.id, 'system'));
    });
    expect(await tellOfTheDesk(ctx)).toBe(0);
    await seal(ctx.store, ctx.now());
    const told = await Promise.all([tellOfTheDesk(ctx), tellOfTheDesk(ctx)]);
    // The lookouts’ own moves, one of which each was retired and put in force, are told too.
    expect(told.filter((n) => n > 0)).toHaveLength(1);
    expect(await tellOfTheDesk(ctx)).toBe(0);
    const page = async (wish: object) => (await listEvents(ctx.store, { ...wish }, undefined, 50)).rows;
    expect((await page({ kind: 'access' })).map((e) => e.event)).toMatchObject([
      { act: 'change access', person: officer.email, change: { action: 'access-change.end', id: '3' } },
    ]);
    expect(await page({ kind: 'sign-in', act: 'fail to sign in' })).toHaveLength(12);
    await watchNewEvents(ctx);
    expect(await alertsOf('rules-switched-off')).toMatchObject([{ key: officer.email, acts: 2 }]);
    expect(await alertsOf('failed-sign-ins')).toMatchObject([
      { key: officer.email, acts: 10, severity: 'high' },
    ]);
  });

  it('cannot be told by anybody else', async () => {
    const forged = event(clock - 1000, {
      ...{ kind: 'desk', act: 'change', channel: null, item: null },
      change: { action: 'notice.pause', object: 'notice', id: '1' },
    });
    const { refused } = await takeEvents(
      ctx,
      { kinds: ['device'], device: 0, aheadMs: 0 },
      JSON.stringify(forged),
    );
    expect(refused).toMatchObject([{ line: 1 }]);
  });
});

describe('a lookout that is made', () => {
  it('tells what it would have raised, what other numbers come to, and where it is blind', async () => {
    const id = await ctx.store.transaction((tx) =>
      addLookout(
        tx,
        ctx.now(),
        officer.id,
        firstLookout('Tuned', {
          ...{ kinds: ['device', 'mail'], channels: ['removable drive'] },
          when: { is: 'more than', count: 4, minutes: 60, by: 'person' },
        }),
      ),
    );
    const outlook = await lookoutOutlook(ctx, id, 30);
    expect(outlook.acts).toBeGreaterThan(150);
    expect(outlook.raised).toBeGreaterThan(0);
    expect(outlook.byDay.reduce((n, d) => n + d.count, 0)).toBe(outlook.raised);
    const counts = outlook.others.toSorted((a, b) => a.count - b.count).map((o) => o.raised);
    expect(counts).toEqual(counts.toSorted((a, b) => b - a));
    expect(outlook.blind).toEqual([]);
    await sayDaysKept(ctx, officer.id, { kind: 'mail', days: 0, saw: 365 });
    expect((await lookoutOutlook(ctx, id, 30)).blind).toEqual([{ kind: 'mail', kept: 0, needs: 1 }]);
    const mail = event(clock - 1000, { kind: 'mail', act: 'send', channel: 'mail' });
    expect(await tell(mail)).toMatchObject({ taken: 0, notKept: 1 });
  });
});

describe('what is kept in view', () => {
  it('is said by rules: the longest wins, what is not kept is not taken, and each ends in its own time', async () => {
    const begin = async (name: string, days: number, watch: Partial<WatchedActs>) => {
      const content = firstViewRule(name, days);
      const id = await ctx.store.transaction((tx) =>
        addViewRule(tx, ctx.now(), officer.id, { ...content, watch: { ...content.watch, ...watch } }),
      );
      await ctx.store.transaction((tx) =>
        moveRule(tx, ctx.now(), VIEW_RULE, officer.id, id, 'put in force', 1),
      );
      return id;
    };
    const person = 'kept@line.example';
    const printers = await begin('No printing', 0, { channels: ['printer'] });
    await begin('Lists for two years', 730, { lens: parseLens('people at least 10') });
    const taken = await tell(
      event(clock - 5000, { person, act: 'print', channel: 'printer' }),
      event(clock - 4000, {
        person,
        act: 'print',
        channel: 'printer',
        item: { name: 'x', people: 40 } as never,
      }),
      event(clock - 3000, { person }),
      event(clock - 500 * DAY, { person, item: { name: 'old', people: 12 } as never }),
    );
    expect(taken).toMatchObject({ taken: 3, notKept: 1 });
    const left = async () =>
      (await listEvents(ctx.store, { person }, undefined, 50)).rows.map((r) => r.event.item?.name).toSorted();
    expect(await left()).toEqual(['list.xlsx', 'old', 'x']);
    await endOldEvents(ctx);
    expect(await left()).toEqual(['list.xlsx', 'old', 'x']);
    clock += 240 * DAY;
    await endOldEvents(ctx);
    expect(await left()).toEqual(['list.xlsx', 'x']);
    clock += 200 * DAY;
    await endOldEvents(ctx);
    expect(await left()).toEqual(['x']);
    clock -= 440 * DAY;
    await moveLookouts(ctx, officer.id, ['more-to-drives'], 'reopen');
    await moveLookouts(ctx, officer.id, ['more-to-drives'], 'put in force');
    await tell(
      event(clock - 2000, { person }),
      event(clock - 1000, { person, item: { name: 'y', people: 12 } as never }),
    );
    const drives = await begin('No drives', 0, { channels: ['removable drive'] });
    const outlook = await viewRuleOutlook(ctx, drives, 30);
    expect(outlook.blinded).toMatchObject([{ id: 'more-to-drives', needs: 31 }]);
    expect(outlook.overlaps).toMatchObject([{ wins: 'other', acts: 1 }]);
    expect(outlook).toMatchObject({ held: 2, notKept: 1, longer: 0, shorter: 0 });
    expect((await listViewRules(ctx.store)).map((r) => r.days).toSorted()).toEqual([0, 0, 730]);
    for (const id of [printers, drives])
      await ctx.store.transaction((tx) => moveRule(tx, ctx.now(), VIEW_RULE, officer.id, id, 'retire', 1));
  });
});
