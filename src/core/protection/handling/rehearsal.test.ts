import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseLens } from '../../lens/lens-text.ts';
import { ActivityEvent, motionOf } from '../activity/event.ts';
import { decide, type Situation, type WeighedHandling } from './decision.ts';
import { firstHandlingRule, type HandlingRuleContent } from './handling-rule.ts';
import { Rehearsal } from './rehearsal.ts';

const rule = (id: string, over: Partial<HandlingRuleContent>): WeighedHandling => ({
  ...{ id, version: 1, broken: false },
  content: { ...firstHandlingRule(id, { 'web form': 'ask' }), ...over },
});
const event = (n: number, over: Partial<ActivityEvent> = {}): ActivityEvent =>
  ActivityEvent.parse({
    ...{
      id: n.toString(16).padStart(32, '0'),
      at: `2026-11-${String((n % 28) + 1).padStart(2, '0')}T10:00:00.000Z`,
    },
    ...{ kind: 'device', person: `p${n % 7}@x.example`, act: 'paste', channel: 'web form' },
    ...{ towards: ['https://shop.example/'], item: { name: `text ${n}` } },
    findings: n % 2 ? [{ detector: 'card', matches: n, confidence: 0.9 }] : [],
    ...over,
  });
const situation = (person: string, unit = ''): Situation => ({
  ...{ person: { address: person, groups: new Map(), unit }, deviceGroups: new Set(), named: new Map() },
  today: '2026-12-01',
});
const cards = parseLens('data one of "card"');

describe('a rehearsal', () => {
  it('counts who would have been asked, by day, way and unit, and names no unit of few', () => {
    const rehearsal = new Rehearsal(rule('r', { lens: cards }), []);
    for (let n = 0; n < 40; n++) {
      const e = event(
        n,
        n % 10 === 1
          ? { outcome: 'ask', answer: 'false alarm', rules: [{ rule: '9', version: 1, wants: 'ask' }] }
          : {},
      );
      rehearsal.add(e, situation(e.person, n % 7 < 5 ? 'Port clerks' : 'Bridge'));
    }
    const figures = rehearsal.figures();
    expect(figures).toMatchObject({ acts: 40, ask: 20, stop: 0, people: 7, falseAlarms: 4, confronted: 4 });
    expect(figures.right?.share).toBe(0);
    expect(figures.byDay.reduce((n, d) => n + d.acts, 0)).toBe(20);
    // The two on the bridge would be told alone.
    expect(figures.byUnit.map((u) => [u.unit, u.people])).toEqual([['Port clerks', 5]]);
  });

  it('tells what changes against the version in force', () => {
    const rehearsal = new Rehearsal(
      rule('r', { lens: parseLens('matches:card at least 11') }),
      [],
      rule('r', { lens: parseLens('matches:card at least 5'), channels: { 'web form': 'stop' } }),
    );
    for (let n = 0; n < 20; n++) rehearsal.add(event(n), situation('a@x.example'));
    // 5, 7, 9 are let go; 11 to 19 are asked in the place of stopped.
    expect(rehearsal.figures().against).toEqual({ gained: 0, lost: 3, other: 5 });
  });

  it('is what the decision core says of each act, record for record', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(60), fc.constantFrom('web form', 'mail', 'printer')), { maxLength: 30 }),
        fc.constantFrom('card', 'iban'),
        fc.constantFrom<'ask' | 'stop'>('ask', 'stop'),
        (acts, detector, step) => {
          const mine = rule('m', {
            channels: { 'web form': step, mail: 'record' },
            lens: parseLens(`data one of "${detector}"`),
          });
          const other = rule('o', { channels: { printer: 'stop', 'web form': 'ask' } });
          const rehearsal = new Rehearsal(mine, [other]);
          const counted = { record: 0, ask: 0, stop: 0 };
          for (const [n, channel] of acts) {
            const e = event(n, { channel: channel as 'mail' });
            const where = situation(e.person);
            const replayed = rehearsal.add(e, where);
            const decision = decide(motionOf(e)!, where, [mine, other]);
            const wants = decision.weighed.find((w) => w.rule === 'm')?.wants;
            expect(replayed?.wants).toBe(wants);
            if (replayed) expect(replayed.outcome).toBe(decision.outcome);
            if (wants) counted[wants]++;
          }
          expect(rehearsal.figures()).toMatchObject({ acts: acts.length, ...counted });
        },
      ),
    ));

  it('keeps the newest hundred, the newest first', () => {
    const rehearsal = new Rehearsal(rule('r', { lens: cards }), []);
    for (let n = 1; n < 900; n += 2) rehearsal.add(event(n), situation('a@x.example'));
    const { shown } = rehearsal.figures();
    expect([shown.length, shown[0]?.item, shown.at(-1)?.item]).toEqual([100, 'text 899', 'text 701']);
  });
});
