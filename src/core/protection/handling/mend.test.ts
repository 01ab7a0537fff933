import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseLens } from '../../lens/lens-text.ts';
import { ActivityEvent } from '../activity/event.ts';
import { motionOf } from '../activity/event.ts';
import { weigh, type Situation, type WeighedHandling } from './decision.ts';
import { firstHandlingRule, type HandlingRuleContent } from './handling-rule.ts';
import { Mending } from './mend.ts';
import { NamedGroup } from './named-group.ts';

const named = new Map([
  ['1', NamedGroup.parse({ name: 'Ours', kind: 'destinations', ours: true, members: ['line.example'] })],
  [
    '2',
    NamedGroup.parse({ name: 'Customs', kind: 'destinations', ours: false, members: ['customs.example'] }),
  ],
]);
const rule = (lens: string, over: Partial<HandlingRuleContent> = {}): WeighedHandling => ({
  ...{ id: '1', version: 1, broken: false },
  content: { ...firstHandlingRule('x', { mail: 'ask' }), lens: parseLens(lens), ...over },
});
let n = 0;
const act = (over: {
  detectors?: readonly (readonly [string, number])[];
  format?: string;
  towards?: string;
  isFalse?: boolean;
  group?: string;
}): readonly [ActivityEvent, Situation] => [
  ActivityEvent.parse({
    ...{ id: (n++).toString(16).padStart(32, '0'), at: '2026-11-20T08:00:00.000Z', kind: 'mail' },
    ...{
      person: 'a@line.example',
      act: 'send',
      channel: 'mail',
      towards: [over.towards ?? 'x@other.example'],
    },
    item: { name: 'x', format: over.format ?? 'DOCX', people: over.detectors?.[0]?.[1] ?? 1 },
    findings: (over.detectors ?? [['iban', 3]]).map(([detector, matches]) => ({
      detector,
      matches,
      confidence: 1,
    })),
    ...{ outcome: 'ask', rules: [{ rule: '1', version: 1, wants: 'ask' }] },
    answer: over.isFalse ? 'false alarm' : 'went on',
  }),
  {
    person: { address: 'a@line.example', groups: new Map(over.group ? [[over.group, 1]] : []) },
    ...{ deviceGroups: new Set(), named, today: '2026-12-01' },
  },
];
const mendsOf = (of: WeighedHandling, acts: readonly (readonly [ActivityEvent, Situation])[]) => {
  const mending = new Mending(of);
  for (const [event, situation] of acts) mending.add(event, situation);
  return mending.mends();
};
const many = (count: number, over: Parameters<typeof act>[0]) =>
  Array.from({ length: count }, () => act(over));

describe('a mend of a rule', () => {
  it.each<[string, WeighedHandling, Parameters<typeof act>[0], Parameters<typeof act>[0], object]>([
    [
      'asks for more where false alarms have few',
      rule('matches:iban at least 2'),
      { detectors: [['iban', 2]], isFalse: true },
      { detectors: [['iban', 20]] },
      { does: 'ask more', fact: 'matches:iban', from: 2, to: 3 },
    ],
    [
      'leaves out data that only false alarms have',
      rule('people at least 1'),
      { detectors: [['phone', 9]], isFalse: true },
      { detectors: [['passport', 4]] },
      { does: 'leave out', fact: 'data', value: 'phone' },
    ],
    [
      'leaves out a format',
      rule('data one of "iban"'),
      { format: 'ICS', isFalse: true },
      { format: 'XLSX' },
      { does: 'leave out', fact: 'format', value: 'ICS' },
    ],
    [
      'leaves a group alone',
      rule('data one of "iban"'),
      { group: 'Treasury', isFalse: true },
      { group: 'Clerks' },
      { does: 'leave alone', group: 'group:Treasury' },
    ],
    [
      'lets go towards a group',
      rule('data one of "iban"'),
      { towards: 'desk@customs.example', isFalse: true },
      { towards: 'me@postbag.example' },
      { does: 'let go towards', group: '2' },
    ],
  ])('%s', (_, of, wrong, right, step) => {
    const found = mendsOf(of, [...many(6, wrong), ...many(10, right)]);
    expect(found).toMatchObject({ confronted: 16, falseAlarms: 6 });
    expect(found.mends[0]).toMatchObject({ step, avoided: 6, lost: 0 });
  });

  it('keeps what is ours inside when a rule about outside lets go towards a group', () => {
    const [mend] = mendsOf(rule('data one of "iban"'), [
      ...many(5, { towards: 'desk@customs.example', isFalse: true }),
      ...many(5, {}),
    ]).mends;
    expect(mend?.content.towards).toEqual({ is: 'not among', groups: ['1', '2'] });
  });

  it('is none where nobody called anything a false alarm, or where it would cost more than it helps', () => {
    expect(mendsOf(rule('data one of "iban"'), many(9, {})).mends).toEqual([]);
    expect(
      mendsOf(rule('data one of "iban"'), [...many(1, { isFalse: true }), ...many(40, {})]).mends,
    ).toEqual([]);
  });

  it('comes to what it says, act by act', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            count: fc.integer({ min: 1, max: 30 }),
            detector: fc.constantFrom('iban', 'phone'),
            format: fc.constantFrom('DOCX', 'ICS'),
            towards: fc.constantFrom('a@customs.example', 'b@other.example', 'c@line.example'),
            isFalse: fc.boolean(),
            group: fc.constantFrom('A', 'B'),
          }),
          { maxLength: 40 },
        ),
        (rows) => {
          const of = rule('people at least 3 or matches:iban at least 2');
          const acts = rows.map(({ count, detector, ...rest }) =>
            act({ ...rest, detectors: [[detector, count]] }),
          );
          const held = acts.filter(([e, s]) => weigh(of, motionOf(e) as never, s).wants !== undefined);
          for (const { content, avoided, lost } of mendsOf(of, acts).mends) {
            const gone = held.filter(
              ([e, s]) => weigh({ ...of, content }, motionOf(e) as never, s).wants === undefined,
            );
            expect(gone.filter(([e]) => e.answer === 'false alarm')).toHaveLength(avoided);
            expect(gone.filter(([e]) => e.answer !== 'false alarm')).toHaveLength(lost);
            // A mend only ever takes away.
            for (const [e, s] of acts)
              if (weigh(of, motionOf(e) as never, s).wants === undefined)
                expect(weigh({ ...of, content }, motionOf(e) as never, s).wants).toBeUndefined();
          }
        },
      ),
    ));
});
