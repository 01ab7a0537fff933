import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { holds } from '../../lens/lens-item.ts';
import { parseLens } from '../../lens/lens-text.ts';
import { CHANNELS, LEADS_TO, type Channel } from './channel.ts';
import { decide, OUTCOMES, readyRule, type Situation, type WeighedHandling } from './decision.ts';
import { firstHandlingRule, STEPS, TOWARDS, type HandlingRuleContent } from './handling-rule.ts';
import { Motion, motionFact } from './motion.ts';
import { isAmong, NamedGroup } from './named-group.ts';

const NAMED = new Map(
  Object.entries({
    ours: { name: 'Ours', kind: 'destinations', ours: true, members: ['strait.example'] },
    payers: { name: 'Payment sites', kind: 'destinations', ours: false, members: ['pay.example'] },
    sticks: { name: 'Ship’s own drives', kind: 'drives', ours: true, members: ['Kaltdrive *'] },
    ship: { name: 'On board', kind: 'networks', ours: true, members: ['10.4.0.0/16', 'Ship'] },
  }).map(([id, g]) => [id, NamedGroup.parse(g)]),
);
const SITUATION: Situation = {
  person: {
    address: 'jonas@strait.example',
    groups: new Map([
      ['clerks', 0],
      ['staff', 1],
    ]),
    unit: 'Halmsund',
  },
  deviceGroups: new Set(['laptops']),
  named: NAMED,
  today: '2026-12-01',
};
const rule = (id: string, over: Partial<HandlingRuleContent>): WeighedHandling => ({
  ...{ id, version: 1, broken: false },
  content: { ...firstHandlingRule(id, { 'web form': 'ask' }), ...over },
});
const motion = (over: Partial<Motion> = {}): Motion =>
  Motion.parse({
    ...{ act: 'paste', channel: 'web form', person: 'jonas', towards: ['https://shop.example/form'] },
    ...{ item: { name: 'text' }, findings: [{ detector: 'card', matches: 4, confidence: 0.97 }] },
    ...over,
  });

describe('an act', () => {
  const cards = parseLens('data one of "card" and matches:card at least 3');
  it.each<[string, Partial<HandlingRuleContent>, Partial<Motion>, string, string | undefined]>([
    ['is stopped', { channels: { 'web form': 'stop' }, lens: cards }, {}, 'stop', undefined],
    [
      'goes on another way',
      { lens: cards },
      { channel: 'printer', towards: ['Halmsund 2'] },
      'go',
      'channel',
    ],
    [
      'goes with too few',
      { lens: cards },
      { findings: [{ detector: 'card', matches: 2, confidence: 1 }] },
      'go',
      'data',
    ],
    ['goes to where it stays ours', { lens: cards }, { towards: ['desk.strait.example'] }, 'go', 'towards'],
    [
      'is asked about where one place of two is outside',
      { lens: cards },
      { towards: ['desk.strait.example', 'a@x.example'] },
      'ask',
      undefined,
    ],
    ['goes for who is left alone', { lens: cards, but: ['group:staff'] }, {}, 'go', 'person'],
    ['goes for others', { lens: cards, who: ['group:officers'] }, {}, 'go', 'person'],
    [
      'is asked about for a group',
      { lens: cards, who: ['group:officers', 'group:clerks'] },
      {},
      'ask',
      undefined,
    ],
    ['goes from other devices', { lens: cards, devices: ['kiosks'] }, {}, 'go', 'device'],
    [
      'goes on another network',
      { lens: cards, networks: ['ship'] },
      { network: '10.5.0.1' },
      'go',
      'network',
    ],
    [
      'is asked about on board',
      { lens: cards, networks: ['ship'] },
      { network: '10.4.9.1' },
      'ask',
      undefined,
    ],
    [
      'is asked about among',
      { towards: { is: 'among', groups: ['payers'] } },
      { towards: ['https://www.pay.example/'] },
      'ask',
      undefined,
    ],
    ['goes where it is not among', { towards: { is: 'among', groups: ['payers'] } }, {}, 'go', 'towards'],
    ['goes where a group is gone', { towards: { is: 'among', groups: ['no-more'] } }, {}, 'go', 'towards'],
    [
      'is recorded whatever it has',
      { channels: { 'web form': 'record' } },
      { findings: [] },
      'record',
      undefined,
    ],
  ])('%s', (_, content, over, outcome, failed) => {
    const decision = decide(motion(over), SITUATION, [rule('r', content)]);
    expect(decision.outcome).toBe(outcome);
    expect(decision.weighed[0]?.failed).toBe(failed);
    expect(decision.by).toBe(outcome === 'go' ? undefined : 'r');
  });

  it('of several rules is decided by the strictest, and the others are told', () => {
    const decision = decide(motion(), SITUATION, [
      rule('a', { channels: { 'web form': 'record' } }),
      rule('c', { channels: { 'web form': 'stop' } }),
      rule('b', { channels: { 'web form': 'stop' } }),
      rule('d', { channels: { printer: 'stop' } }),
    ]);
    expect([decision.outcome, decision.by]).toEqual(['stop', 'b']);
    expect(decision.weighed.map((w) => [w.rule, w.wants])).toEqual([
      ...[
        ['b', 'stop'],
        ['c', 'stop'],
        ['a', 'record'],
        ['d', undefined],
      ],
    ]);
  });

  it('tells which condition on the data held, with what was found', () => {
    const [weighed] = decide(motion(), SITUATION, [rule('a', { lens: cards })]).weighed;
    expect(weighed?.data).toMatchObject({
      ...{ join: 'all', holds: true },
      of: [{ found: 'card' }, { found: '4' }],
    });
  });

  it('is never met by a rule whose lens names what is gone', () => {
    const vocabulary = { fact: () => undefined, value: () => undefined };
    const broken = readyRule(
      { id: 'x', version: 1, content: rule('x', { lens: cards }).content },
      vocabulary,
    );
    expect(decide(motion(), SITUATION, [broken]).outcome).toBe('go');
  });
});

const isJonas = (mark: string) =>
  ['group:clerks', 'group:staff', 'jonas@strait.example', 'unit:Halmsund', 'everyone'].includes(mark);

/** As one would say it, with no care for speed. */
function decideSlowly(m: Motion, s: Situation, rules: readonly WeighedHandling[]) {
  const holding = rules.filter(({ id, content: c, broken }) => {
    const kind = LEADS_TO[m.channel];
    const inside = (place: string, ids: readonly string[]) =>
      ids.some((id) => NAMED.has(id) && NAMED.get(id)!.kind === kind && isAmong(NAMED.get(id)!, place));
    const ourIds = [...NAMED].filter(([, g]) => g.ours).map(([id]) => id);
    const towards =
      c.towards.is === 'anywhere' ||
      (c.towards.is === 'anywhere outside' &&
        (m.towards.length === 0 || m.towards.some((p) => !inside(p, ourIds)))) ||
      (c.towards.is === 'among' && m.towards.some((p) => inside(p, c.towards.groups))) ||
      (c.towards.is === 'not among' &&
        (m.towards.length === 0 || m.towards.some((p) => !inside(p, c.towards.groups))));
    return (
      !broken &&
      !s.passes?.has(id) &&
      (c.first.length === 0 || c.first.some(isJonas)) &&
      m.channel in c.channels &&
      (c.who.length === 0 || c.who.some(isJonas)) &&
      !c.but.some(isJonas) &&
      (c.devices.length === 0 || c.devices.some((d) => s.deviceGroups.has(d))) &&
      (c.networks.length === 0 ||
        c.networks.some((n) => NAMED.has(n) && isAmong(NAMED.get(n)!, m.network))) &&
      towards &&
      holds(c.lens, (f) => motionFact(m, f), s.today)
    );
  });
  for (const outcome of ['stop', 'ask', 'record'] as const) {
    const ids = holding.filter((r) => r.content.channels[m.channel] === outcome).map((r) => r.id);
    if (ids.length > 0) return { outcome, by: ids.toSorted()[0], holding: holding.length };
  }
  return { outcome: 'go' as const, by: undefined, holding: 0 };
}

const anyChannel = fc.constantFrom<Channel>(...CHANNELS);
const anyRule = fc.record({
  who: fc.subarray(['group:clerks', 'group:officers', 'jonas@strait.example', 'unit:Halmsund', 'everyone'], {
    maxLength: 2,
  }),
  but: fc.subarray(['group:officers', 'group:staff'], { maxLength: 1 }),
  first: fc.subarray(['group:officers', 'group:staff'], { maxLength: 1 }),
  channels: fc.dictionary(anyChannel, fc.constantFrom(...STEPS), { minKeys: 1, maxKeys: 9 }),
  lens: fc.constantFrom(
    ...[
      'data one of "card"',
      'not data one of "card"',
      'matches:card at least 5',
      'level one of "secret"',
      'level unknown',
      'size at least 100',
      'everything',
      'place in "/home/lists"',
    ].map(parseLens),
  ),
  towards: fc.record({
    is: fc.constantFrom(...TOWARDS),
    groups: fc.subarray(['ours', 'payers', 'sticks', 'gone']),
  }),
  networks: fc.subarray(['ship', 'gone'], { maxLength: 1 }),
  devices: fc.subarray(['laptops', 'kiosks'], { maxLength: 1 }),
});
const anyMotion = fc.record({
  channel: anyChannel,
  towards: fc.array(
    fc.constantFrom('desk.strait.example', 'a@pay.example', 'https://x.example/', 'Kaltdrive 1', 'Other 2'),
    { maxLength: 3 },
  ),
  network: fc.constantFrom('', 'Ship', '10.4.0.9', '192.0.2.1'),
  findings: fc.array(
    fc.record({
      detector: fc.constant('card'),
      matches: fc.integer({ min: 1, max: 9 }),
      confidence: fc.constant(0.9),
    }),
    { maxLength: 1 },
  ),
  item: fc.record({
    level: fc.constantFrom(null, 'secret'),
    size: fc.constantFrom(0, 500),
    origin: fc.constantFrom('', '/home/lists/a', '/home/listsb'),
  }),
});

it('is decided as one would say it slowly, whatever the rules', () =>
  fc.assert(
    fc.property(fc.array(anyRule, { maxLength: 9 }), anyMotion, fc.boolean(), (contents, over, isLetBy) => {
      const rules = contents.map((c, i) => rule(`r${i}`, c as Partial<HandlingRuleContent>));
      const m = motion(over as Partial<Motion>);
      const situation = { ...SITUATION, passes: new Set(isLetBy ? ['r0'] : []) };
      const fast = decide(m, situation, rules);
      const slow = decideSlowly(m, situation, rules);
      expect([fast.outcome, fast.by]).toEqual([slow.outcome, slow.by]);
      expect(fast.weighed.filter((w) => w.wants)).toHaveLength(slow.holding);
      expect(fast.weighed).toHaveLength(rules.length);
      expect(OUTCOMES).toContain(fast.outcome);
    }),
    { numRuns: 500 },
  ));
