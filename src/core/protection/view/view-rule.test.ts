import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseLens } from '../../lens/lens-text.ts';
import { ActivityEvent, EVENT_KINDS, type EventKind } from '../activity/event.ts';
import type { Situation } from '../handling/decision.ts';
import { isWatched, type WatchedActs } from '../lookouts/lookout.ts';
import { firstLookout } from '../lookouts/lookout-content.ts';
import { ViewOutlook } from './view-outlook.ts';
import { daysNeeded, firstViewRule, keptFor, type ViewRule } from './view-rule.ts';

const BY_KIND = Object.fromEntries(EVENT_KINDS.map((k) => [k, 30])) as Record<EventKind, number>;
const rule = (id: string, days: number, watch: Partial<WatchedActs> = {}): ViewRule => {
  const content = firstViewRule(id, days);
  return { id, content: { ...content, watch: { ...content.watch, ...watch } } };
};
const where: Situation = {
  person: { address: 'a@x.example', groups: new Map([['clerks', 1]]) },
  ...{ deviceGroups: new Set(), named: new Map(), today: '2026-12-01' },
};
let n = 0;
const event = (over: Partial<ActivityEvent> = {}): ActivityEvent =>
  ActivityEvent.parse({
    ...{ id: (n++).toString(16).padStart(32, '0'), at: '2026-11-20T08:00:00.000Z', kind: 'device' },
    ...{ person: 'a@x.example', act: 'print', channel: 'printer', item: { name: 'a' } },
    findings: [{ detector: 'card', matches: 2, confidence: 1 }],
    ...over,
  });

describe('how long an act is kept', () => {
  it.each<[string, readonly ViewRule[], number, string | undefined, readonly string[]]>([
    ['by its kind where no rule holds', [rule('1', 9, { channels: ['mail'] })], 30, undefined, []],
    ['by the rule that holds, also for less', [rule('1', 0)], 0, '1', []],
    ['by the longest of several', [rule('1', 7), rule('2', 90), rule('3', 7)], 90, '2', ['1', '3']],
    ['by the first of equal ones', [rule('2', 7), rule('1', 7)], 7, '1', ['2']],
    ['by what it has', [rule('1', 400, { lens: parseLens('data one of "card"') })], 400, '1', []],
    ['by who did it', [rule('1', 400, { who: ['group:officers'] })], 30, undefined, []],
  ])('is said %s', (_, rules, days, by, others) =>
    expect(keptFor(event(), where, rules, BY_KIND)).toEqual({ days, by, others }),
  );

  it('is never less by one rule more than by those that hold without it, whatever they are', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            days: fc.integer({ min: 0, max: 100 }),
            channels: fc.subarray(['printer' as const, 'mail' as const]),
          }),
          { minLength: 1, maxLength: 6 },
        ),
        (all) => {
          const rules = all.map(({ days, channels }, i) => rule(String(i), days, { channels }));
          const kept = keptFor(event(), where, rules, BY_KIND);
          // The slow way.
          const held = rules.filter(
            (r) => r.content.watch.channels.length === 0 || r.content.watch.channels.includes('printer'),
          );
          expect(kept.days).toBe(held.length === 0 ? 30 : Math.max(...held.map((r) => r.content.days)));
          expect([...(kept.by === undefined ? [] : [kept.by]), ...kept.others].toSorted()).toEqual(
            held.map((r) => r.id).toSorted(),
          );
        },
      ),
    ));
});

describe('what a rule would change', () => {
  it('tells what is kept otherwise, which rule wins where two hold, and which lookouts would be blind', () => {
    const printers = { channels: ['printer' as const] };
    const lookouts = [
      { id: 'a', content: firstLookout('Printing', { ...printers, when: { is: 'every time' } }) },
      { id: 'b', content: firstLookout('Unusual', { when: { is: 'unusual', days: 20, by: 'person' } }) },
      { id: 'c', content: firstLookout('Mail', { channels: ['mail'], when: { is: 'every time' } }) },
    ];
    const others = [rule('9', 5, { lens: parseLens('data one of "card"') })];
    const outlook = new ViewOutlook(rule('1', 0, printers), others, BY_KIND, lookouts);
    outlook.add(event(), where);
    outlook.add(event({ findings: [] }), where);
    outlook.add(event({ channel: 'mail', act: 'send' }), where);
    expect(outlook.figures()).toEqual({
      ...{ held: 2, longer: 0, shorter: 0, notKept: 1 },
      overlaps: [{ id: '9', acts: 1, wins: 'other' }],
      blinded: [
        { id: 'a', name: 'Printing', acts: 1, needs: 1 },
        { id: 'b', name: 'Unusual', acts: 1, needs: 21 },
      ],
    });
  });

  it('is nothing where it only keeps longer', () => {
    const outlook = new ViewOutlook(rule('1', 400), [], BY_KIND, [
      { id: 'a', content: firstLookout('Any', { when: { is: 'every time' } }) },
    ]);
    outlook.add(event(), where);
    expect(outlook.figures()).toMatchObject({ held: 1, longer: 1, blinded: [], overlaps: [] });
  });

  it('knows how far back lookouts look', () => {
    expect(daysNeeded(firstLookout('x', { when: { is: 'every time' } }))).toBe(1);
    expect(daysNeeded(firstLookout('x', { when: { is: 'unusual', days: 30, by: 'person' } }))).toBe(31);
    expect(isWatched(rule('1', 1).content.watch, event(), where)).toBe(true);
  });
});
