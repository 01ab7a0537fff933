import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { inTodayOrder, todayWeight, type Timed } from './today-order.ts';

const NOW = new Date('2026-12-01T09:00:00Z');
const item = (kind: string, due: string | null = null, since = '2026-11-20T09:00:00Z', key = 'x'): Timed => ({
  ...{ kind, key, since, due },
});

describe('what something on Today weighs', () => {
  it.each<[string, string | null, number, string]>([
    ['ledger', null, 60, 'without a day'],
    ['request late', '2026-12-01T09:00:00Z', 48 + 40, 'its time is over'],
    ['request late', '2026-11-01T00:00:00Z', 48 + 40, 'its time is over'],
    ['request due', '2026-12-01T10:00:00Z', 38 + 32, 'time left: 1 hour'],
    ['request due', '2026-12-02T09:00:00Z', 38 + 32, 'time left: 24 hours'],
    ['request due', '2026-12-02T09:00:01Z', 38 + 24, 'time left: 25 hours'],
    ['request due', '2026-12-06T09:00:00Z', 38 + 14, 'time left: 5 days'],
    ['request due', '2026-12-20T09:00:00Z', 38 + 5, 'time left: 19 days'],
    ['request due', '2027-03-01T09:00:00Z', 38, 'time left: 90 days'],
    ['nothing known', null, 10, 'without a day'],
  ])('%s, due %s: %i', (kind, due, weight, words) => {
    const of = todayWeight({ kind, due }, NOW);
    expect(of.weight).toBe(weight);
    expect(of.steps.map((s) => s.value).reduce((a, b) => a + b, 0)).toBe(weight);
    expect(of.steps[1]?.words).toBe(words);
  });

  it('never gets less as its time comes nearer', () => {
    fc.assert(
      fc.property(fc.nat(100 * 24), fc.nat(100 * 24), (a, b) => {
        const at = (hours: number) =>
          todayWeight({ kind: 'leak', due: new Date(NOW.getTime() + hours * 3_600_000).toISOString() }, NOW)
            .weight;
        expect(at(Math.min(a, b))).toBeGreaterThanOrEqual(at(Math.max(a, b)));
      }),
    );
  });
});

describe('the order of Today', () => {
  it('has a task that is due tomorrow before a leak without a day, and a late one before both', () => {
    const [task, leak, late, listing] = [
      item('request task', '2026-12-02T08:00:00Z'),
      item('leak'),
      item('request late', '2026-11-28T00:00:00Z'),
      item('stores found'),
    ];
    expect(inTodayOrder([listing, leak, task, late], NOW)).toEqual([late, task, leak, listing]);
  });

  it('is the same however the items come, and loses none', () => {
    const arbitrary = fc.record({
      kind: fc.constantFrom('leak', 'request due', 'request late', 'failure'),
      key: fc.string({ maxLength: 3 }),
      since: fc.constantFrom('2026-11-20T09:00:00Z', '2026-11-21T09:00:00Z'),
      due: fc.constantFrom(null, '2026-11-30T00:00:00Z', '2026-12-03T00:00:00Z'),
    });
    fc.assert(
      fc.property(fc.uniqueArray(arbitrary, { selector: (i) => i.kind + i.key }), (items) => {
        const ordered = inTodayOrder(items, NOW);
        expect(inTodayOrder(items.toReversed(), NOW)).toEqual(ordered);
        expect(new Set(ordered)).toEqual(new Set(items));
        const weights = ordered.map((i) => todayWeight(i, NOW).weight);
        expect(weights).toEqual(weights.toSorted((a, b) => b - a));
      }),
    );
  });
});
