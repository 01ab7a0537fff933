import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { sealFor } from '../../../standins/device/sealing.ts';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { RuleBundle } from '../../../src/core/protection/devices/rule-bundle.ts';
import {
  firstHandlingRule,
  type HandlingRuleContent,
} from '../../../src/core/protection/handling/handling-rule.ts';
import type { Context } from '../../../src/server/context.ts';
import { takeEvents } from '../../../src/server/protection/activity/take-events.ts';
import { listAlerts } from '../../../src/server/protection/alerts/alerts.ts';
import { bundleFor } from '../../../src/server/protection/devices/bundles.ts';
import {
  enrolDevice,
  enrolmentOf,
  openEnrolment,
  readDevice,
  type Device,
} from '../../../src/server/protection/devices/devices.ts';
import {
  deleteEvidence,
  endEvidence,
  giveBack,
  keepEvidence,
  listEvidence,
  openEvidence,
  returned,
  returnsFor,
} from '../../../src/server/protection/evidence/evidence.ts';
import { evidenceKey } from '../../../src/server/protection/evidence/evidence-key.ts';
import { addHandlingRule, HANDLING_RULE } from '../../../src/server/protection/handling/handling-rules.ts';
import { mendsOf } from '../../../src/server/protection/handling/mends.ts';
import { watchNewEvents } from '../../../src/server/protection/lookouts/watch-events.ts';
import { answerQuestion, listQuestions } from '../../../src/server/protection/questions/questions.ts';
import { moveRule } from '../../../src/server/rules/rule-moves.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { freshDatabase } from '../../fresh-database.ts';
import { testAccount } from '../context.ts';

let clock = Date.parse('2026-11-29T10:00:00.000Z');
let ctx: Context;
let officer: Account;
let device: Device;
let rule = '';

beforeAll(async () => {
  const { url, store } = await freshDatabase('yare_evidence');
  ctx = {
    store,
    settings: readSettings({ DATABASE_URL: url, SECRET_KEY: 'ab'.repeat(32), LOG_LEVEL: 'silent' }),
    now: () => new Date(clock),
  };
  officer = await testAccount(ctx);
  const { token } = await openEnrolment(ctx, officer.id, { groups: [], devices: 1, days: 7 });
  const { id } = await enrolmentOf(ctx, `Bearer ${token}`);
  const told = { name: 'PC', person: 'jonas@line.example', platform: 'x', can: ['removable drive' as const] };
  device = await readDevice(store, (await enrolDevice(ctx, id, told)).device);
  const content: HandlingRuleContent = {
    ...firstHandlingRule('Lists on sticks', { 'removable drive': 'stop' }),
    keeps: { copy: true, quarantine: true, openers: [], days: 10 },
    alert: 'medium',
  };
  rule = await store.transaction((tx) => addHandlingRule(tx, ctx.now(), officer.id, content));
  await store.transaction((tx) =>
    moveRule(tx, ctx.now(), HANDLING_RULE, officer.id, rule, 'put in force', 1),
  );
  clock += 60_000;
}, 60_000);
afterAll(() => ctx.store.close());

const LIST = 'Ann Nord, passport 4471\nBo Syd, passport 4472';
async function act(over: object = {}) {
  const event = {
    ...{ id: randomBytes(16).toString('hex'), at: new Date(clock - 1000).toISOString(), kind: 'device' },
    ...{ person: 'jonas@line.example', act: 'copy', channel: 'removable drive', towards: ['Noname 1'] },
    ...{ item: { name: 'list.txt', people: 3 }, findings: [], outcome: 'stop' },
    rules: [{ rule, version: 1, wants: 'stop' }],
    ...over,
  };
  const taken = await takeEvents(
    ctx,
    { kinds: ['device'], device: device.id, person: device.person, aheadMs: 0 },
    JSON.stringify(event),
  );
  expect(taken.refused).toEqual([]);
  return { event: event.id, rule };
}
const sealed = (text = LIST, key = evidenceKey(ctx)) =>
  sealFor(key, new TextEncoder().encode(text), (n) => new Uint8Array(randomBytes(n)));
const keep = async (
  told: { event: string; rule: string },
  body?: Uint8Array,
  what: 'copy' | 'quarantine' = 'quarantine',
) => keepEvidence(ctx, device, { ...told, what }, body ?? (await sealed()));
const newest = async () => (await listEvidence(ctx.store, {}, undefined, 10)).rows[0];
const clear = (base64: string) => Buffer.from(base64, 'base64').toString();

describe('what is kept of data in motion', () => {
  it('is kept once, never in clear, and opened with a reason that stands in the ledger', async () => {
    const told = await act();
    expect(await keep(told)).toEqual({ kept: true });
    expect(await keep(told)).toEqual({ kept: false });
    const row = await newest();
    expect(row).toMatchObject({ what: 'quarantine', name: 'list.txt', state: 'kept', size: LIST.length });
    const bodies = await ctx.store.all(
      z.object({ body: z.instanceof(Buffer) }),
      'SELECT body FROM kept_evidence',
    );
    expect(bodies[0]?.body.includes('passport')).toBe(false);
    const opened = await openEvidence(ctx, officer, row?.id ?? 0, 'The port office asked');
    expect([opened.name, clear(opened.base64)]).toEqual(['list.txt', LIST]);
    const entry = await ctx.store.one(
      z.object({ detail: z.unknown() }),
      "SELECT detail FROM ledger_entry WHERE action = 'evidence.open' AND object_id = ?",
      [String(row?.id)],
    );
    expect(JSON.stringify(entry?.detail)).toContain('The port office asked');
  });

  it('is opened by those alone that its rule names', async () => {
    await ctx.store.run('UPDATE kept_evidence SET openers = ?', [JSON.stringify(['somebody@line.example'])]);
    const row = await newest();
    await expect(openEvidence(ctx, officer, row?.id ?? 0, 'x')).rejects.toMatchObject({ status: 403 });
    await ctx.store.run('UPDATE kept_evidence SET openers = ?', [JSON.stringify([officer.email])]);
    expect(clear((await openEvidence(ctx, officer, row?.id ?? 0, 'x')).base64)).toBe(LIST);
  });

  it('can be opened by no one whom a rule names and who may not', async () => {
    const content: HandlingRuleContent = {
      ...firstHandlingRule('Named', { 'removable drive': 'stop' }),
      keeps: { copy: true, quarantine: false, openers: [officer.email, 'nobody@line.example'], days: 10 },
    };
    const named = await ctx.store.transaction((tx) => addHandlingRule(tx, ctx.now(), officer.id, content));
    await expect(
      ctx.store.transaction((tx) =>
        moveRule(tx, ctx.now(), HANDLING_RULE, officer.id, named, 'put in force', 1),
      ),
    ).rejects.toMatchObject({
      fields: [{ field: 'keeps.openers', message: 'nobody@line.example may not open what is kept.' }],
    });
  });

  it('is given back to the device it came from, once, and is gone then', async () => {
    const row = await newest();
    await giveBack(ctx, officer, row?.id ?? 0, 'It was his own list');
    await expect(giveBack(ctx, officer, row?.id ?? 0, 'again')).rejects.toMatchObject({ status: 409 });
    expect(await returnsFor(ctx, { id: device.id + 1 })).toEqual([]);
    const [back] = await returnsFor(ctx, device);
    expect([back?.name, clear(back?.base64 ?? '')]).toEqual(['list.txt', LIST]);
    await returned(ctx, { id: device.id + 1 }, row?.id ?? 0);
    expect(await returnsFor(ctx, device)).toHaveLength(1);
    await returned(ctx, device, row?.id ?? 0);
    await returned(ctx, device, row?.id ?? 0);
    expect(await returnsFor(ctx, device)).toEqual([]);
    expect((await newest())?.state).toBe('given back');
    await expect(openEvidence(ctx, officer, row?.id ?? 0, 'x')).rejects.toMatchObject({ status: 409 });
  });

  it('is deleted by hand with a reason, and by itself when its time is over', async () => {
    await keep(await act());
    const first = await newest();
    await deleteEvidence(ctx, officer, first?.id ?? 0, 'Not needed');
    await keep(await act());
    expect(await endEvidence(ctx)).toBe(0);
    clock += 11 * 86_400_000;
    expect(await endEvidence(ctx)).toBe(1);
    const states = (await listEvidence(ctx.store, { state: 'deleted' }, undefined, 10)).rows;
    expect(states).toHaveLength(2);
    const left = await ctx.store.one(
      z.object({ n: z.coerce.number() }),
      'SELECT COUNT(*) AS n FROM kept_evidence WHERE body IS NOT NULL',
    );
    expect(left?.n).toBe(0);
  });

  it.each<[string, (told: { event: string; rule: string }) => Promise<unknown>, number]>([
    ['of an event that it never told', (t) => keep({ ...t, event: 'ab'.repeat(16) }), 404],
    ['for a rule that did not hold', (t) => keep({ ...t, rule: '99' }), 400],
    [
      'that is sealed for another desk',
      async (t) =>
        keep(t, await sealed(LIST, evidenceKey({ settings: { SECRET_KEY: 'cd'.repeat(32) } } as never))),
      400,
    ],
    ['that is not sealed', (t) => keep(t, Buffer.from(LIST.repeat(4))), 400],
    ['that is too long', (t) => keep(t, new Uint8Array(8_000_001)), 413],
  ])('is not taken from a device %s', async (_, work, status) =>
    expect(work(await act())).rejects.toMatchObject({ status }),
  );

  it('raises what its rule raises, one alert for one person', async () => {
    await watchNewEvents(ctx);
    const alerts = (await listAlerts(ctx.store, { rule }, undefined, 10)).rows;
    expect(alerts.map((a) => [a.byKind, a.severity, a.key])).toContainEqual([
      ...['handling rule', 'medium', 'jonas@line.example'],
    ]);
    const before = alerts.reduce((n, a) => n + a.acts, 0);
    await act();
    await watchNewEvents(ctx);
    const after = (await listAlerts(ctx.store, { rule }, undefined, 10)).rows;
    expect(after.reduce((n, a) => n + a.acts, 0)).toBe(before + 1);
  });
});

describe('whoever is stopped', () => {
  it('asks the officer, is let by for a while, and hears why', async () => {
    const told = await act({ answer: 'asked the officer', reason: 'The captain waits for it' });
    const [question] = await listQuestions(ctx.store);
    expect(question).toMatchObject({ words: 'The captain waits for it', allowed: null, rule });
    const today = () =>
      ctx.store.all(
        z.object({ link: z.string() }),
        "SELECT link FROM today_item WHERE kind = 'asked by a person'",
      );
    expect(await today()).toHaveLength(1);
    await answerQuestion(ctx, officer.id, question?.id ?? 0, { is: 'yes', hours: 8, words: 'For this trip' });
    await expect(
      answerQuestion(ctx, officer.id, question?.id ?? 0, { is: 'no', words: 'x' }),
    ).rejects.toMatchObject({ status: 409 });
    expect(await today()).toEqual([]);
    const bundle = async () => RuleBundle.parse(JSON.parse((await bundleFor(ctx, device)).bundle));
    expect(await bundle()).toMatchObject({
      passes: [{ rule, until: new Date(clock + 8 * 3_600_000).toISOString() }],
      answers: [{ event: told.event, allowed: true, words: 'For this trip' }],
    });
    clock += 9 * 3_600_000;
    expect((await bundle()).passes).toEqual([]);
    await act({ answer: 'asked the officer', reason: 'Again' });
    const [second] = await listQuestions(ctx.store);
    await answerQuestion(ctx, officer.id, second?.id ?? 0, { is: 'no', words: 'Use the ship’s drive.' });
    expect((await bundle()).passes).toEqual([]);
    expect((await bundle()).answers[0]).toMatchObject({ allowed: false, words: 'Use the ship’s drive.' });
  });

  it('says that it is wrong, and the rule is told how to be wrong less often', async () => {
    for (let i = 0; i < 4; i++)
      await act({ answer: 'false alarm', item: { name: 'rota.ics', format: 'ICS', people: 4 } });
    const mends = await mendsOf(ctx, rule, 30);
    expect(mends.falseAlarms).toBe(4);
    expect(mends.mends[0]).toMatchObject({
      step: { does: 'leave out', fact: 'format', value: 'ICS' },
      lost: 0,
    });
  });
});
