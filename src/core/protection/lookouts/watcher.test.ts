import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseLens } from '../../lens/lens-text.ts';
import { ActivityEvent } from '../activity/event.ts';
import type { Situation } from '../handling/decision.ts';
import { isWatched, Watch } from './lookout.ts';
import { atLeast } from './poisson.ts';
import { Watcher } from './watcher.ts';

const watch = (over: Partial<Watch> = {}): Watch =>
  Watch.parse({
    ...{
      kinds: [],
      acts: [],
      channels: [],
      outcomes: [],
      answers: [],
      changes: [],
      who: [],
      but: [],
      lens: { all: [] },
    },
    when: { is: 'every time' },
    ...over,
  });
let n = 0;
const event = (at: number, over: Partial<ActivityEvent> = {}): ActivityEvent =>
  ActivityEvent.parse({
    ...{ id: (n++).toString(16).padStart(32, '0'), at: new Date(at).toISOString(), kind: 'device' },
    ...{ person: 'a@x.example', act: 'paste', channel: 'web form', item: { name: 'text' } },
    findings: [{ detector: 'card', matches: 2, confidence: 1 }],
    ...over,
  });
const where = (address = 'a@x.example'): Situation => ({
  ...{ person: { address, groups: new Map([['clerks', 1]]) }, deviceGroups: new Set(), named: new Map() },
  today: '2026-12-01',
});
const HELD = { rule: '1', version: 1, wants: 'stop' } as const;
const PAUSED: Partial<ActivityEvent> = {
  ...{ kind: 'desk', act: 'change', channel: null, item: null, findings: [] },
  change: { action: 'notice.pause', object: 'notice', id: '3' },
};
const NOON = Date.parse('2026-11-01T12:00:00Z');
const DAY = 86_400_000;

describe('the upper tail of a Poisson distribution', () => {
  it.each([
    [0, 3, 1],
    [1, 0, 0],
    [1, 1, 1 - Math.exp(-1)],
    [3, 1, 1 - Math.exp(-1) * 2.5],
    [10, 1, 1.1142547833872e-7],
    [5, 20, 0.99998305],
    [100, 50, 3.2000653245852e-10],
  ])('of %d or more where %d are usual is %d', (count, mean, tail) => {
    const found = atLeast(count, mean);
    expect(Math.abs(found - tail)).toBeLessThan(tail * 1e-4 + 1e-15);
  });

  it('falls as the count rises, stays within 0 and 1, and is the sum of its terms', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 400 }),
        fc.double({ min: 0.01, max: 300, noNaN: true }),
        (count, mean) => {
          const [here, next] = [atLeast(count, mean), atLeast(count + 1, mean)];
          expect(next).toBeLessThanOrEqual(here + 1e-12);
          expect(here).toBeGreaterThanOrEqual(0);
          expect(here).toBeLessThanOrEqual(1);
          let [term, below] = [Math.exp(-mean), 0];
          for (let k = 0; k < count; k++) [below, term] = [below + term, (term * mean) / (k + 1)];
          expect(here).toBeCloseTo(Math.max(0, 1 - below), 9);
        },
      ),
    ));

  it.each([
    [1, -1],
    [1, NaN],
    [1.5, 1],
  ])('is none of %d and %d', (count, mean) => expect(() => atLeast(count, mean)).toThrow(RangeError));
});

it.each<[string, Partial<Watch>, Partial<ActivityEvent>, boolean]>([
  ['anything', {}, {}, true],
  ['another way', { channels: ['mail'] }, {}, false],
  ['one of the acts', { acts: ['paste', 'print'] }, {}, true],
  ['what was stopped', { outcomes: ['stop'] }, {}, false],
  ['another kind', { kinds: ['sign-in'] }, {}, false],
  [
    'a false alarm',
    { answers: ['false alarm'] },
    { outcome: 'stop', rules: [HELD], answer: 'false alarm' },
    true,
  ],
  ['no answer', { answers: ['false alarm'] }, { outcome: 'stop', rules: [HELD] }, false],
  ['a change', { changes: ['notice.pause'] }, PAUSED, true],
  ['another change', { changes: ['notice.retire'] }, PAUSED, false],
  ['what is no change', { changes: ['notice.pause'] }, {}, false],
  ['a group', { who: ['group:clerks'] }, {}, true],
  ['another group', { who: ['group:bridge'] }, {}, false],
  ['who is left alone', { but: ['a@x.example'] }, {}, false],
  ['cards', { lens: parseLens('data one of "card"') }, {}, true],
  ['many cards', { lens: parseLens('matches:card at least 3') }, {}, false],
  [
    'a sign-in that has no data',
    { kinds: ['sign-in'] },
    { kind: 'sign-in', act: 'sign in', channel: null, item: null, findings: [] },
    true,
  ],
  [
    'data of a sign-in',
    { lens: parseLens('data one of "card"') },
    { kind: 'sign-in', act: 'sign in', channel: null, item: null, findings: [] },
    false,
  ],
])('watches %s', (_, over, what, is) => expect(isWatched(watch(over), event(NOON, what), where())).toBe(is));

describe('a lookout', () => {
  it('raises every time, for each person', () => {
    const watcher = new Watcher(watch());
    expect(watcher.see(event(NOON), 1, where())).toMatchObject({
      key: 'a@x.example',
      because: 'It was done.',
    });
  });

  it('raises at more than so many within a time, by whom it counts, and begins anew', () => {
    const watcher = new Watcher(watch({ when: { is: 'more than', count: 2, minutes: 60, by: 'device' } }));
    const raised = [0, 10, 61, 65, 66, 67, 68].map((minute) =>
      watcher.see(event(NOON + minute * 60_000), 7, where()),
    );
    expect(raised.map((r) => r?.events.length)).toEqual([
      undefined,
      undefined,
      undefined,
      3,
      undefined,
      undefined,
      3,
    ]);
    expect(raised[3]).toMatchObject({ key: 'device 7', because: '3 within an hour; more than 2 raise.' });
  });

  it('counts as one would by looking at all acts each time', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 40 }), fc.constantFrom('a', 'b')), { maxLength: 60 }),
        fc.integer({ min: 1, max: 5 }),
        fc.integer({ min: 1, max: 90 }),
        (steps, count, minutes) => {
          const watcher = new Watcher(watch({ when: { is: 'more than', count, minutes, by: 'person' } }));
          let at = NOON;
          const all: { at: number; person: string; used: boolean }[] = [];
          for (const [gap, who] of steps) {
            at += gap * 60_000;
            const person = `${who}@x.example`;
            all.push({ at, person, used: false });
            const fresh = all.filter((e) => !e.used && e.person === person && e.at > at - minutes * 60_000);
            const raised = watcher.see(event(at, { person }), 1, where(person));
            expect(raised !== undefined).toBe(fresh.length > count);
            if (raised) {
              expect(raised.events).toHaveLength(fresh.length);
              for (const e of fresh) e.used = true;
            }
          }
        },
      ),
    ));

  it('counts the same in whatever order acts are told, of those that never raise', () =>
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 600 }), { minLength: 1, maxLength: 12 }),
        fc.integer({ min: 1, max: 6 }),
        (minutes, count) => {
          const when = { is: 'more than', count, minutes: 60, by: 'person' } as const;
          const inOrder = minutes.toSorted((a, b) => a - b);
          // The slow way: whether any hour holds more.
          const any = inOrder.some((m) => inOrder.filter((o) => o <= m && o > m - 60).length > count);
          for (const told of [inOrder, minutes, inOrder.toReversed()]) {
            const watcher = new Watcher(watch({ when }));
            const raised = told.map((m) => watcher.see(event(NOON + m * 60_000), 1, where()));
            expect(raised.some(Boolean)).toBe(any);
          }
        },
      ),
    ));

  it('goes on where it stopped, from what is remembered', () => {
    const when = { is: 'more than', count: 2, minutes: 60, by: 'person' } as const;
    const watcher = new Watcher(watch({ when }));
    watcher.recall('a@x.example', [
      { id: 'old', at: NOON - 3 * 3_600_000, used: false },
      { id: 'told', at: NOON - 120_000, used: true },
      { id: 'one', at: NOON - 60_000, used: false },
      { id: 'two', at: NOON, used: false },
    ]);
    const raised = watcher.see(event(NOON + 60_000), 1, where());
    expect(raised?.events.slice(0, 2)).toEqual(['one', 'two']);
    const daily = new Watcher(watch({ when: { is: 'unusual', days: 14, by: 'person' } }));
    const before = (used: boolean) => [
      { id: 'first', at: NOON - 10 * DAY, used: false },
      ...Array.from({ length: 9 }, (_, i) => ({ id: `today ${i}`, at: NOON + i, used })),
    ];
    daily.recall('a@x.example', before(true));
    expect(daily.see(event(NOON + 60_000), 1, where())).toBeUndefined();
    daily.recall('a@x.example', before(false));
    expect(daily.see(event(NOON + 60_000), 1, where())?.events).toHaveLength(10);
  });

  const unusual = (perDay: readonly number[]) => {
    const watcher = new Watcher(watch({ when: { is: 'unusual', days: 30, by: 'person' } }));
    return perDay.flatMap((count, day) =>
      Array.from({ length: count }, (_, i) =>
        watcher.see(event(NOON + day * DAY + i * 1000), 1, where()),
      ).flatMap((r) => (r ? [{ ...r, day }] : [])),
    );
  };

  it('raises what is unusual for somebody, once a day, and says how unusual', () => {
    const raised = unusual([...Array<number>(20).fill(1), 12, 1]);
    expect(raised.map((r) => r.day)).toEqual([20]);
    expect(raised[0]?.events).toHaveLength(6);
    expect(raised[0]?.because).toBe(
      '6 on one day, where 1.0 a day are usual (20 in 20 days): by chance once in 1,482 days.',
    );
  });

  it.each<[string, readonly number[]]>([
    ['who always does much', Array<number>(30).fill(40)],
    ['a little more than usual', [...Array<number>(20).fill(5), 9]],
    ['who is hardly known', [0, 1, 0, 0, 0, 0, 30]],
    ['two, where there never was any', [1, ...Array<number>(25).fill(0), 2]],
  ])('does not raise at %s', (_, perDay) => expect(unusual(perDay)).toEqual([]));

  it('forgets what is further back than its days', () => {
    // Forty a day, long ago; then quiet; then ten.
    const raised = unusual([...Array<number>(10).fill(40), ...Array<number>(31).fill(0), 10]);
    expect(raised.map((r) => r.day)).toEqual([41]);
  });

  it('hardly ever raises at those who do what they always do', () => {
    let state = 7;
    const chance = () => (state = (state * 16807) % 2147483647) / 2147483647;
    const poisson = (mean: number) => {
      let [k, p] = [0, chance()];
      for (const limit = Math.exp(-mean); p > limit; p *= chance()) k++;
      return k;
    };
    let days = 0;
    let raised = 0;
    for (let person = 0; person < 60; person++) {
      const perDay = Array.from({ length: 90 }, () => poisson(4));
      days += perDay.length;
      raised += unusual(perDay).length;
    }
    expect(raised / days).toBeLessThan(0.004);
  });
});
