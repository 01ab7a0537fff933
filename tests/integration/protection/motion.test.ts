import { createPublicKey, randomBytes, verify } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { parseLens } from '../../../src/core/lens/lens-text.ts';
import type { ActivityEvent } from '../../../src/core/protection/activity/event.ts';
import { RuleBundle, situationOf } from '../../../src/core/protection/devices/rule-bundle.ts';
import { decide } from '../../../src/core/protection/handling/decision.ts';
import {
  firstHandlingRule,
  type HandlingRuleContent,
} from '../../../src/core/protection/handling/handling-rule.ts';
import { Motion } from '../../../src/core/protection/handling/motion.ts';
import { writeStaff } from '../../../src/server/accounts/staff/staff.ts';
import type { Context } from '../../../src/server/context.ts';
import { endOldEvents, sayDaysKept } from '../../../src/server/protection/activity/activity-kept.ts';
import {
  countEvents,
  eventCounts,
  eventFacets,
  listEvents,
} from '../../../src/server/protection/activity/events.ts';
import { explainEvent } from '../../../src/server/protection/activity/explain-event.ts';
import { takeEvents, type Teller } from '../../../src/server/protection/activity/take-events.ts';
import { bundleFor, deviceCameIn, renewBundle } from '../../../src/server/protection/devices/bundles.ts';
import { addDeviceGroup } from '../../../src/server/protection/devices/device-groups.ts';
import { behindCounts, listDevices } from '../../../src/server/protection/devices/device-list.ts';
import {
  deviceOf,
  endDevice,
  endEnrolment,
  enrolDevice,
  enrolmentOf,
  openEnrolment,
  openEnrolments,
  readDevice,
  viewDevice,
} from '../../../src/server/protection/devices/devices.ts';
import { dayOfPerson, handlingOutlook } from '../../../src/server/protection/handling/handling-outlook.ts';
import { addHandlingRule, HANDLING_RULE } from '../../../src/server/protection/handling/handling-rules.ts';
import {
  addNamedGroup,
  listNamedGroups,
  NAMED_GROUP,
  takeMembers,
} from '../../../src/server/protection/handling/named-groups.ts';
import { removeNamedGroup } from '../../../src/server/protection/handling/remove-group.ts';
import { editRule } from '../../../src/server/rules/rule-edits.ts';
import { moveRule } from '../../../src/server/rules/rule-moves.ts';
import { readRule } from '../../../src/server/rules/rule-store.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { freshDatabase } from '../../fresh-database.ts';
import { testAccount } from '../context.ts';
import { sendFile } from '../sent-file.ts';

const NOW = '2026-11-29T10:00:00.000Z';
let ctx: Context;
let officer: Account;
let ours = 0;
let kiosks = 0;

beforeAll(async () => {
  const { url, store } = await freshDatabase('yare_motion');
  ctx = {
    store,
    settings: readSettings({ DATABASE_URL: url, SECRET_KEY: 'ab'.repeat(32), LOG_LEVEL: 'silent' }),
    now: () => new Date(NOW),
  };
  officer = await testAccount(ctx);
  await store.transaction((tx) =>
    writeStaff(tx, ctx.now(), officer.id, {
      members: [
        { address: 'jonas@line.example', name: 'Jonas', unit: 'Port', groups: ['Clerks'], left: null },
        { address: 'lotte@line.example', name: 'Lotte', unit: 'Care', groups: ['Care'], left: null },
      ],
      groups: [
        { name: 'Clerks', within: ['Staff'] },
        { name: 'Care', within: ['Staff'] },
        { name: 'Staff', within: [] },
      ],
    }),
  );
  ours = await store.transaction((tx) =>
    addNamedGroup(tx, ctx.now(), officer.id, {
      ...{ name: 'Ours', kind: 'destinations', ours: true, members: ['line.example'] },
    }),
  );
  kiosks = await store.transaction((tx) => addDeviceGroup(tx, ctx.now(), officer.id, 'Kiosks'));
}, 60_000);
afterAll(() => ctx.store.close());

const forms = (over: Partial<HandlingRuleContent> = {}): HandlingRuleContent => ({
  ...firstHandlingRule('Cards into web forms', { 'web form': 'stop' }),
  ...{ lens: parseLens('matches:payment-card at least 2'), because: 'PCI DSS' },
  ...over,
});
async function ruleInForce(content: HandlingRuleContent): Promise<string> {
  const id = await ctx.store.transaction((tx) => addHandlingRule(tx, ctx.now(), officer.id, content));
  await ctx.store.transaction((tx) =>
    moveRule(tx, ctx.now(), HANDLING_RULE, officer.id, id, 'put in force', 1),
  );
  return id;
}
let day = 0;
const line = (over: Partial<ActivityEvent> | Record<string, unknown> = {}) => ({
  ...{ id: randomBytes(16).toString('hex'), at: `2026-11-2${day++ % 9}T08:00:00.000Z`, kind: 'device' },
  ...{
    person: 'jonas@line.example',
    act: 'paste',
    channel: 'web form',
    towards: ['https://shop.example/pay'],
  },
  ...{ item: { name: 'text' }, findings: [{ detector: 'payment-card', matches: 4, confidence: 0.97 }] },
  ...over,
});
const DEVICE: Teller = { kinds: ['device'], device: 0, person: 'jonas@line.example', aheadMs: 0 };
const take = (lines: readonly unknown[], teller: Partial<Teller> = {}) =>
  takeEvents(
    ctx,
    { ...DEVICE, ...teller },
    lines.map((l) => (typeof l === 'string' ? l : JSON.stringify(l))).join('\n'),
  );
const enrol = async (groups: number[] = [], devices = 1) => {
  const { token } = await openEnrolment(ctx, officer.id, { groups, devices, days: 7 });
  const { id } = await enrolmentOf(ctx, `Bearer ${token}`);
  const told = {
    name: 'Laptop 1',
    person: 'jonas@line.example',
    platform: 'made up',
    can: ['web form' as const],
  };
  return { token, enrolled: await enrolDevice(ctx, id, told) };
};

describe('a token that lets devices in', () => {
  it('is listed while it does, never itself, and taken back', async () => {
    const { token } = await openEnrolment(ctx, officer.id, { groups: [], devices: 3, days: 2 });
    const [open] = await openEnrolments(ctx);
    expect(open).toMatchObject({ left: 3, madeBy: officer.name });
    expect(JSON.stringify(open)).not.toContain(token);
    await endEnrolment(ctx, officer.id, open?.id ?? 0);
    expect(await openEnrolments(ctx)).toEqual([]);
    await expect(enrolmentOf(ctx, `Bearer ${token}`)).rejects.toMatchObject({ status: 401 });
    await expect(endEnrolment(ctx, officer.id, open?.id ?? 0)).rejects.toMatchObject({ status: 404 });
  });
});

describe('what is told', () => {
  it('is kept once, however often it is sent, and found by every filter', async () => {
    const [a, b] = [
      line(),
      line({ person: 'jonas@line.example', channel: 'printer', act: 'print', findings: [] }),
    ];
    expect(await take([a, b, a])).toEqual({ taken: 2, already: 1, notKept: 0, refused: [] });
    expect(await take([b])).toEqual({ taken: 0, already: 1, notKept: 0, refused: [] });
    const ids = async (wish: Record<string, string>) =>
      (await listEvents(ctx.store, wish, undefined, 50)).rows.map((r) => r.event.id).toSorted();
    const both = [a.id, b.id].toSorted();
    expect(await ids({})).toEqual(both);
    for (const [wish, found] of [
      [{ person: 'JONAS@line.example' }, both],
      [{ person: 'x@line.example' }, []],
      [{ channel: 'printer' }, [b.id]],
      [{ act: 'paste' }, [a.id]],
      [{ outcome: 'go' }, both],
      [{ outcome: 'stop' }, []],
      [{ data: 'payment-card' }, [a.id]],
      [{ kind: 'device', from: '2026-11-20', to: '2026-11-29' }, both],
      [{ rule: '7' }, []],
      [{ rule: 'x' }, []],
      [{ device: '9' }, []],
      [{ level: 'secret' }, []],
      [{ answer: 'went on' }, []],
    ] as const)
      expect(await ids(wish), JSON.stringify(wish)).toEqual(found);
    expect(await countEvents(ctx.store, { data: 'payment-card' })).toBe(1);
    // Through a lens, act by act.
    expect(await ids({ lens: 'matches:payment-card at least 2' })).toEqual([a.id]);
    expect(await ids({ lens: 'matches:payment-card at least 9' })).toEqual([]);
    expect(await ids({ lens: 'matches:payment-card at least 2', channel: 'printer' })).toEqual([]);
    expect(await eventCounts(ctx.store, { lens: 'data one of "payment-card"' })).toMatchObject({
      ...{ total: 1, among: undefined, facets: { channel: { 'web form': 1 }, outcome: { go: 1 } } },
    });
    await expect(listEvents(ctx.store, { lens: 'data (' }, undefined, 10)).rejects.toMatchObject({
      fields: [{ field: 'lens' }],
    });
    expect(await eventFacets(ctx.store, {})).toMatchObject({
      ...{ channel: { printer: 1, 'web form': 1 }, outcome: { go: 2 }, rule: {} },
    });
  });

  it.each<[string, unknown, RegExp]>([
    ['no JSON', 'nonsense', /no JSON/],
    ['a list', '[1]', /expected object/],
    ['too long', JSON.stringify(line({ reason: 'x'.repeat(70_000) })), /longer than/],
    ['of somebody else', line({ person: 'lotte@line.example' }), /whose it is/],
    ['of another kind', line({ kind: 'sign-in', channel: null, item: null, act: 'sign in' }), /alone/],
    [
      'of a rule that is none',
      line({ outcome: 'ask', rules: [{ rule: '999', version: 1, wants: 'ask' }] }),
      /no handling rule 999/,
    ],
    ['that was decided by nothing', line({ outcome: 'stop' }), /rules/],
    [
      'that another rule decided',
      line({ outcome: 'stop', rules: [{ rule: '1', version: 1, wants: 'ask' }] }),
      /decided/,
    ],
    ['yet to come', line({ at: '2026-11-29T11:00:00.000Z' }), /yet to come/],
    ['older than is kept', line({ at: '2025-01-01T00:00:00.000Z' }), /older than 365 days/],
    ['with an act that is none', line({ act: 'burn' }), /act/],
    ['with an id that is none', line({ id: '../../x' }), /id/],
    [
      'with the same detector twice',
      line({ findings: [1, 1].map((matches) => ({ detector: 'a', matches, confidence: 1 })) }),
      /One entry/,
    ],
    ['with more than it may know', { ...line(), text: '4111 1111 1111 1111' }, /[Uu]nrecognized/],
    [
      'with a number that is none',
      JSON.stringify(line()).replace('"matches":4', '"matches":1e999'),
      /findings/,
    ],
  ])('is refused where it is %s, and the lines beside it are taken', async (_, bad, why) => {
    const good = line();
    const answer = await take([bad, good]);
    expect(answer).toMatchObject({ taken: 1, refused: [{ line: 1 }] });
    expect(answer.refused[0]?.why).toMatch(why);
  });

  it('by a clock that is a year ahead is put in its place, and told of the device', async () => {
    const { enrolled } = await enrol();
    const device = await readDevice(ctx.store, enrolled.device);
    const year = 365 * 86_400_000;
    const { aheadMs } = await deviceCameIn(ctx, device, {
      now: new Date(Date.parse(NOW) + year).toISOString(),
    });
    expect(aheadMs).toBe(year);
    const late = line({ at: new Date(Date.parse(NOW) + year - 60_000).toISOString() });
    expect(await take([late], { aheadMs, device: device.id })).toMatchObject({ taken: 1 });
    const [kept] = (await listEvents(ctx.store, { device: String(device.id) }, undefined, 5)).rows;
    expect(kept?.event.at).toBe('2026-11-29T09:59:00.000Z');
    expect((await viewDevice(ctx, device.id)).behind).toContain('its clock is 365 days ahead');
    // Its answer was lost; meanwhile its clock was set, or is a second otherwise off.
    for (const again of [aheadMs + 1000, 0]) {
      const said = await take([{ ...late, at: again === 0 ? NOW : late.at }], {
        aheadMs: again,
        device: device.id,
      });
      expect(said).toEqual({ taken: 0, already: 1, notKept: 0, refused: [] });
    }
    const at = { aheadMs, device: device.id };
    const [one, two] = await Promise.all([take([late, line()], at), take([late], at)]);
    expect([one.taken + one.refused.length, two.taken]).toEqual([1, 0]);
  });

  it('leaves when its days are over, and stays where it is to be kept longer', async () => {
    const old = line({ at: '2026-02-01T00:00:00.000Z', findings: [] });
    await take([old]);
    await sayDaysKept(ctx, officer.id, { kind: 'device', days: 200, saw: 365 });
    await expect(sayDaysKept(ctx, officer.id, { kind: 'device', days: 100, saw: 365 })).rejects.toMatchObject(
      {
        status: 409,
      },
    );
    const before = await countEvents(ctx.store, {});
    expect(await endOldEvents(ctx)).toBe(1);
    expect(await countEvents(ctx.store, {})).toBe(before - 1);
    expect((await take([old])).refused[0]?.why).toMatch(/200 days/);
  });
});

describe('a device', () => {
  it('comes in once by a token for one, and is not let in by anything else', async () => {
    const { token, enrolled } = await enrol([kiosks]);
    await expect(enrolmentOf(ctx, `Bearer ${token}`)).rejects.toMatchObject({ status: 401 });
    await expect(enrolmentOf(ctx, 'Bearer ye_nonsense')).rejects.toMatchObject({ status: 401 });
    const device = await deviceOf(ctx.store, `Bearer ${enrolled.token}`);
    expect(device.id).toBe(enrolled.device);
    for (const wrong of [null, '', `Bearer ${token}`, `Bearer ${enrolled.token}x`, enrolled.token])
      await expect(deviceOf(ctx.store, wrong)).rejects.toMatchObject({ status: 401 });
    await endDevice(ctx, officer.id, device.id);
    await expect(deviceOf(ctx.store, `Bearer ${enrolled.token}`)).rejects.toMatchObject({ status: 401 });
    await expect(endDevice(ctx, officer.id, device.id)).rejects.toMatchObject({ status: 409 });
  });

  it('where two come in at once for the last place, one of them does', async () => {
    const { token } = await openEnrolment(ctx, officer.id, { groups: [], devices: 1, days: 1 });
    const { id } = await enrolmentOf(ctx, `Bearer ${token}`);
    const told = { name: 'L', person: 'jonas@line.example', platform: '', can: [] };
    const came = await Promise.allSettled([enrolDevice(ctx, id, told), enrolDevice(ctx, id, told)]);
    expect(came.map((c) => c.status).toSorted()).toEqual(['fulfilled', 'rejected']);
  });

  it('takes its rules signed, for itself, and is in step until they change', async () => {
    const rule = await ruleInForce(forms({ who: ['group:Staff'], devices: [String(kiosks)] }));
    await renewBundle(ctx);
    const { enrolled } = await enrol([kiosks]);
    const device = await readDevice(ctx.store, enrolled.device);
    const { bundle, signature } = await bundleFor(ctx, device);
    const key = createPublicKey({ key: { kty: 'OKP', crv: 'Ed25519', x: enrolled.key }, format: 'jwk' });
    const holds = (text: string) => verify(null, Buffer.from(text), key, Buffer.from(signature, 'base64url'));
    expect(holds(bundle)).toBe(true);
    expect(holds(bundle.replace('"stop"', '"record"'))).toBe(false);
    const read = RuleBundle.parse(JSON.parse(bundle));
    expect(read).toMatchObject({
      device: device.id,
      person: {
        unit: 'Port',
        groups: [
          ['Clerks', 1],
          ['Staff', 2],
        ],
      },
    });
    const { situation, rules } = situationOf(read, NOW);
    const motion = Motion.parse({
      ...{ act: 'paste', channel: 'web form', person: device.person, towards: ['https://shop.example/'] },
      ...{ item: {}, findings: [{ detector: 'payment-card', matches: 2, confidence: 1 }] },
    });
    expect(decide(motion, situation, rules)).toMatchObject({ outcome: 'stop', by: rule });
    await deviceCameIn(ctx, device, { now: NOW, bundle: read.number });
    expect((await viewDevice(ctx, device.id)).behind).toEqual([]);
    // Nothing changed: no other bundle.
    expect(await renewBundle(ctx)).toBe(read.number);
    await ctx.store.transaction((tx) => moveRule(tx, ctx.now(), HANDLING_RULE, officer.id, rule, 'pause', 1));
    expect(await renewBundle(ctx)).toBe(read.number + 1);
    expect((await viewDevice(ctx, device.id)).behind).toEqual(['its rules are one bundle behind']);
    // It cannot claim rules that were never made.
    await deviceCameIn(ctx, device, { now: NOW, bundle: 999 });
    expect((await viewDevice(ctx, device.id)).bundle).toBe(read.number);
    const behind = await listDevices(ctx, { standing: 'behind', group: String(kiosks) }, undefined, 50);
    expect(behind.rows.map((d) => d.id)).toEqual([device.id]);
    const { inStep, devices } = await behindCounts(ctx);
    const all = (await listDevices(ctx, {}, undefined, 200)).rows.filter((d) => d.endedAt === null);
    expect([inStep, devices]).toEqual([all.filter((d) => d.behind.length === 0).length, all.length]);
  });
});

describe('a group that rules use', () => {
  it('takes its members from a table, whole or not at all, and stays while a rule names it', async () => {
    const id = await ctx.store.transaction((tx) =>
      addNamedGroup(tx, ctx.now(), officer.id, {
        ...{ name: 'Payment sites', kind: 'destinations', ours: false, members: ['pay.example'] },
      }),
    );
    const csv = async (text: string) => sendFile(ctx, officer.id, 'members.csv', Buffer.from(text));
    const upload = await csv('member,note\nshop.example,a\nno domain,b\n');
    await expect(takeMembers(ctx, officer.id, id, { upload, beside: true })).rejects.toMatchObject({
      fields: [{ field: 'row 3' }],
    });
    await takeMembers(ctx, officer.id, id, { upload: await csv('member\nshop.example\n'), beside: true });
    expect((await NAMED_GROUP.read(ctx.store, id)).members).toEqual(['pay.example', 'shop.example']);
    const rule = await ctx.store.transaction((tx) =>
      addHandlingRule(tx, ctx.now(), officer.id, forms({ towards: { is: 'among', groups: [String(id)] } })),
    );
    const remove = () => ctx.store.transaction((tx) => removeNamedGroup(tx, ctx.now(), officer.id, id));
    await expect(remove()).rejects.toMatchObject({ status: 409 });
    const { content, revision } = await readRule(ctx.store, HANDLING_RULE, rule);
    await editRule(ctx, HANDLING_RULE, officer.id, rule, {
      ...{ revision, base: content },
      content: { ...content, towards: { is: 'anywhere outside', groups: [] } },
    });
    await remove();
    expect((await listNamedGroups(ctx.store)).map((g) => g.id)).toEqual([String(ours)]);
  });

  it('stays while a rule in force names it, though its draft does not any more', async () => {
    const id = await ctx.store.transaction((tx) =>
      addNamedGroup(tx, ctx.now(), officer.id, {
        ...{ name: 'Spared', kind: 'destinations', ours: false, members: ['spared.example'] },
      }),
    );
    const rule = await ruleInForce(forms({ towards: { is: 'not among', groups: [String(id)] } }));
    const { content, revision } = await readRule(ctx.store, HANDLING_RULE, rule);
    await editRule(ctx, HANDLING_RULE, officer.id, rule, {
      ...{ revision, base: content },
      content: { ...content, towards: { is: 'anywhere outside', groups: [] } },
    });
    const remove = () => ctx.store.transaction((tx) => removeNamedGroup(tx, ctx.now(), officer.id, id));
    await expect(remove()).rejects.toMatchObject({ status: 409 });
    await ctx.store.transaction((tx) => moveRule(tx, ctx.now(), HANDLING_RULE, officer.id, rule, 'pause', 1));
    // It would be in force again by one act.
    await expect(remove()).rejects.toMatchObject({ status: 409 });
    await ctx.store.transaction((tx) =>
      moveRule(tx, ctx.now(), HANDLING_RULE, officer.id, rule, 'retire', 1),
    );
    await remove();
  });

  it('of another kind than the way keeps a rule from being put in force', async () => {
    const id = await ctx.store.transaction((tx) =>
      addNamedGroup(tx, ctx.now(), officer.id, {
        ...{ name: 'Drives', kind: 'drives', ours: true, members: ['Kaltdrive *'] },
      }),
    );
    await expect(
      ruleInForce(forms({ towards: { is: 'among', groups: [String(id)] } })),
    ).rejects.toMatchObject({
      fields: [{ field: 'towards.groups' }],
    });
    await expect(ruleInForce(forms({ who: ['group:Nobody'], says: {} }))).rejects.toMatchObject({
      fields: [{ field: 'who' }, { field: 'says.en' }],
    });
  });
});

describe('what a rule would have done', () => {
  it('is reckoned over what was told, against the version in force, with what people said of it', async () => {
    await ctx.store.run('DELETE FROM activity_event');
    const rule = await ruleInForce(forms({ lens: parseLens('matches:payment-card at least 2') }));
    const held = { outcome: 'stop', rules: [{ rule, version: 1, wants: 'stop' }] };
    const found = (matches: number) => ({
      findings: [{ detector: 'payment-card', matches, confidence: 0.9 }],
    });
    await take([
      line({ ...found(1) }),
      line({ ...found(2), ...held, answer: 'false alarm' }),
      line({ ...found(3), ...held }),
      line({ ...found(9), ...held }),
      line({ ...found(9), towards: ['https://desk.line.example/'] }),
      line({ ...found(9), channel: 'printer', act: 'print', towards: ['P1'] }),
    ]);
    const { content, revision } = await readRule(ctx.store, HANDLING_RULE, rule);
    await editRule(ctx, HANDLING_RULE, officer.id, rule, {
      ...{ revision, base: content },
      content: {
        ...content,
        lens: parseLens('matches:payment-card at least 3'),
        channels: { 'web form': 'ask' },
      },
    });
    const outlook = await handlingOutlook(ctx, rule, 30);
    expect(outlook).toMatchObject({
      ...{ acts: 5, ask: 2, stop: 0, people: 1, falseAlarms: 0, days: 30 },
      against: { gained: 0, lost: 1, other: 2 },
    });
    const one = outlook.shown.find((s) => s.change === 'gone');
    const explained = await explainEvent(ctx, one!.at, one!.id);
    expect(explained.now).toMatchObject({ outcome: 'stop', by: rule });
    expect(explained.rules[rule]).toBe('Cards into web forms');
    const day = await dayOfPerson(ctx, rule, 'jonas@line.example', one!.at.slice(0, 10));
    expect(day.acts.map((a) => a.wants)).toEqual([undefined]);
  });
});

it('tells the ledger who let devices in, grouped and ended them, and no address of anybody', async () => {
  const rows = await ctx.store.all(
    z.object({ action: z.string(), detail: z.string() }),
    "SELECT action, CAST(detail AS CHAR) AS detail FROM ledger_entry WHERE object IN ('device', 'device enrolment', 'named group', 'handling rule')",
  );
  expect(new Set(rows.map((r) => r.action))).toContain('device.enrol');
  expect(rows.filter((r) => r.detail.includes('@'))).toEqual([]);
});
