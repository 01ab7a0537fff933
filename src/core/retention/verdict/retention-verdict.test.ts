import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dayAfter, lastDayOf, yearEnd, type Day } from '../clock/period.ts';
import {
  compareAbout,
  endOf,
  retentionVerdict,
  type About,
  type Bound,
  type Clock,
  type ItemDays,
  type WeighedRetention,
} from './retention-verdict.ts';
import { retentionWords } from './verdict-words.ts';

const CHANGED: Clock = { after: 'changed', yearEnd: false, unknown: 'never begins' };
const years = (count: number) => ({ count, unit: 'years' as const });
const rule = (id: string, more: Partial<WeighedRetention> = {}): WeighedRetention => ({
  ...{ id, about: { is: 'everything' }, period: years(5), clock: CHANGED, then: 'delete', order: null },
  ...more,
});
const bound = (id: string, kind: Bound['kind'], count: number | null, more: Partial<Bound> = {}): Bound => ({
  ...{ id, kind, period: count === null ? null : years(count), clock: CHANGED },
  ...more,
});
const item = (more: Partial<ItemDays> = {}): ItemDays => ({
  ...{ created: '2019-05-01', changed: '2020-03-10', events: new Map(), hasPersonalData: true },
  ...more,
});
const TODAY = '2026-11-29';
const verdict = (
  of: { rules?: readonly WeighedRetention[]; bounds?: readonly Bound[]; holds?: readonly string[] },
  on: ItemDays = item(),
) => retentionVerdict(on, { rules: [], bounds: [], holds: [], ...of }, TODAY);

describe('the end of a term', () => {
  const sailing = new Map([['arrival', '2021-08-15']]);
  it.each<readonly [string, Partial<WeighedRetention>, Partial<ItemDays>, Day | null]>([
    ['after it was changed', {}, {}, '2025-03-10'],
    ['after it was created', { clock: { ...CHANGED, after: 'created' } }, {}, '2024-05-01'],
    ['after the year in which it was changed', { clock: { ...CHANGED, yearEnd: true } }, {}, '2025-12-31'],
    ['after an event', { clock: { ...CHANGED, after: 'arrival' } }, { events: sailing }, '2026-08-15'],
    ['after an event that is not known', { clock: { ...CHANGED, after: 'arrival' } }, {}, null],
    [
      'after an event that is not known, else as it was changed',
      { clock: { ...CHANGED, after: 'arrival', unknown: 'changed' } },
      {},
      '2025-03-10',
    ],
    [
      'where nothing is known',
      { clock: { ...CHANGED, after: 'arrival', unknown: 'created' } },
      { created: null },
      null,
    ],
    ['that is for good', { period: null }, {}, null],
  ])('is told %s', (_, term, days, wanted) => expect(endOf(rule('r', term), item(days))).toBe(wanted));
});

describe('how specific a rule is', () => {
  it('goes from the item to everything, and from a deep place to a wide one', () => {
    const order: readonly About[] = [
      { is: 'item' },
      { is: 'lens', depth: 3 },
      { is: 'lens', depth: 0 },
      { is: 'place', depth: 4 },
      { is: 'place', depth: 1 },
      { is: 'everything' },
    ];
    expect(order.toReversed().toSorted((a, b) => compareAbout(b, a))).toEqual(order);
  });
});

describe('a verdict', () => {
  const deep = rule('deep', { about: { is: 'place', depth: 3 }, period: years(2) });
  const all = rule('all', { period: years(10) });

  it('is kept where nothing is said', () => {
    expect(verdict({})).toMatchObject({
      state: 'kept',
      ends: null,
      goes: null,
      then: 'nothing',
      by: undefined,
    });
  });

  it('is by the most specific rule, from the day after its end', () => {
    expect(verdict({ rules: [all, deep] })).toMatchObject({
      state: 'due',
      by: 'deep',
      ends: '2022-03-10',
      goes: '2022-03-11',
      lost: [{ rule: 'all', because: 'less specific' }],
    });
  });

  it.each([
    ['2026-11-28', 'due'],
    // The day itself is one on which it is kept.
    ['2026-11-29', 'kept'],
    ['2026-11-30', 'kept'],
  ])('of one that ends on %s is %s today', (ends, state) => {
    const changed = `2021${ends.slice(4)}`;
    expect(verdict({ rules: [rule('r')] }, item({ changed }))).toMatchObject({ ends, state });
  });

  it('is held by a hold, whatever else; and says when it would go without', () => {
    const found = verdict({ rules: [deep], holds: ['z', 'a'], bounds: [bound('max', 'maximum', 1)] });
    expect(found).toMatchObject({ state: 'held', ends: '2021-03-10', holds: ['a', 'z'] });
  });

  it.each<readonly [string, number | null, number | null, Day | null, string | undefined]>([
    ['neither', null, null, '2025-03-10', undefined],
    ['a minimum before it', 3, null, '2025-03-10', undefined],
    ['a minimum behind it', 7, null, '2027-03-10', 'min'],
    ['a maximum behind it', null, 9, '2025-03-10', undefined],
    ['a maximum before it', null, 2, '2022-03-10', 'max'],
    ['both around it', 3, 9, '2025-03-10', undefined],
    ['both that cross', 8, 2, '2028-03-10', 'min'],
  ])('stays within bounds: %s', (_, least, most, ends, movedBy) => {
    const bounds = [
      ...(least === null ? [] : [bound('min', 'minimum', least), bound('min-b', 'minimum', 1)]),
      ...(most === null ? [] : [bound('max', 'maximum', most), bound('max-b', 'maximum', 12)]),
    ];
    const found = verdict({ rules: [rule('r')], bounds });
    expect([found.ends, found.movedBy]).toEqual([ends, movedBy]);
    expect(found.conflict !== undefined).toBe(least === 8 && most === 2);
  });

  it('is for good where a minimum is, and asks where a maximum ends what no rule lets go', () => {
    expect(verdict({ rules: [rule('r')], bounds: [bound('ever', 'minimum', null)] }).ends).toBeNull();
    const max = bound('max', 'maximum', 4);
    for (const rules of [
      [],
      [rule('r', { then: 'nothing' })],
      [rule('r', { then: 'tell', period: years(9) })],
    ])
      expect(verdict({ rules, bounds: [max] })).toMatchObject({
        ends: '2024-03-10',
        then: 'ask',
        state: 'due',
        movedBy: 'max',
      });
    expect(verdict({ rules: [rule('r', { then: 'archive', period: null })], bounds: [max] }).then).toBe(
      'archive',
    );
    // A minimum alone lets nothing go.
    expect(verdict({ bounds: [bound('min', 'minimum', 1)] })).toMatchObject({ ends: null, then: 'nothing' });
  });

  it('lets nothing go that a rule would make anonymous and that holds nothing personal, but for a maximum', () => {
    const rules = [rule('blank', { then: 'anonymise', period: years(1) })];
    const plain = item({ hasPersonalData: false });
    expect(verdict({ rules })).toMatchObject({ state: 'due', then: 'anonymise' });
    const spared = verdict({ rules }, plain);
    expect(spared).toMatchObject({ state: 'kept', ends: null, then: 'nothing', by: 'blank' });
    const names = { rule: (id: string) => id, bound: String, hold: String };
    expect(retentionWords(spared, names)).toEqual([
      'It is kept: “blank” decides, would make it anonymous, and there is nothing personal in it.',
    ]);
    expect(verdict({ rules, bounds: [bound('max', 'maximum', 2)] }, plain)).toMatchObject({
      state: 'due',
      then: 'ask',
      movedBy: 'max',
    });
  });

  it('is by the one that ends first where it holds personal data, else by the one that ends last, unless ordered', () => {
    const short = rule('short', { period: years(1) });
    const long = rule('long', { period: years(9) });
    expect(verdict({ rules: [long, short] })).toMatchObject({
      by: 'short',
      lost: [{ rule: 'long', because: 'ends later' }],
    });
    const plain = item({ hasPersonalData: false });
    expect(verdict({ rules: [short, long] }, plain)).toMatchObject({
      by: 'long',
      lost: [{ rule: 'short', because: 'ends earlier' }],
    });
    expect(verdict({ rules: [short, { ...long, order: 0 }] })).toMatchObject({
      by: 'long',
      lost: [{ because: 'ordered behind' }],
    });
    expect(verdict({ rules: [rule('b'), rule('a')] })).toMatchObject({
      by: 'a',
      lost: [{ rule: 'b', because: 'says the same' }],
    });
    // For good is behind all.
    expect(verdict({ rules: [rule('ever', { period: null }), long] }).by).toBe('long');
  });

  it('explains itself', () => {
    const names = {
      rule: (id: string) => `R ${id}`,
      bound: (id: string) => `B ${id}`,
      hold: (id: string) => `H ${id}`,
    };
    const words = (...of: Parameters<typeof verdict>) => retentionWords(verdict(...of), names);
    expect(
      words({
        rules: [all, deep],
        bounds: [bound('min', 'minimum', 8), bound('max', 'maximum', 1)],
        holds: ['berth 4'],
      }),
    ).toEqual([
      'It stays, as “H berth 4” covers it, whatever else is said.',
      'Without the hold it would go from 11 Mar 2028 on: “R deep” decides. Then: delete.',
      '“B min” has it end on 10 Mar 2028. The rule alone would end on 10 Mar 2022.',
      '“B min” asks to keep it longer than “B max” lets: the minimum counts.',
      '“R all” is less specific, and gives way.',
    ]);
    expect(words({})).toEqual(['It is kept for good, or until its clock begins: no rule is about it.']);
  });
});

describe('any verdict', () => {
  const day = fc
    .date({ min: new Date('2000-01-01'), max: new Date('2030-12-31'), noInvalidDate: true })
    .map((d) => d.toISOString().slice(0, 10));
  const clock = fc.record({
    after: fc.constantFrom('created', 'changed', 'arrival'),
    yearEnd: fc.boolean(),
    unknown: fc.constantFrom('created' as const, 'changed' as const, 'never begins' as const),
  });
  const period = fc.option(
    fc.record({
      count: fc.integer({ min: 1, max: 15 }),
      unit: fc.constantFrom('days' as const, 'months' as const, 'years' as const),
    }),
  );
  const about = fc.oneof(
    fc.record({ is: fc.constantFrom('item' as const, 'everything' as const) }),
    fc.record({
      is: fc.constantFrom('lens' as const, 'place' as const),
      depth: fc.integer({ min: 0, max: 2 }),
    }),
  );
  const arbitraryRule = fc.record({
    about,
    period,
    clock,
    then: fc.constantFrom(...(['nothing', 'tell', 'ask', 'delete', 'archive', 'anonymise'] as const)),
    order: fc.option(fc.integer({ min: 0, max: 2 })),
  });
  const arbitraryBound = fc.record({
    kind: fc.constantFrom('minimum' as const, 'maximum' as const),
    period,
    clock,
  });
  const arbitraryItem = fc.record({
    created: fc.option(day),
    changed: fc.option(day),
    events: fc.option(day).map((d) => new Map(d === null ? [] : [['arrival', d]])),
    hasPersonalData: fc.boolean(),
  });

  const NEVER = '99999';
  const slowEnd = (t: { period: WeighedRetention['period']; clock: Clock }, of: ItemDays): string => {
    const days: Record<string, Day | null | undefined> = {
      created: of.created,
      changed: of.changed,
      arrival: of.events.get('arrival'),
    };
    let start = days[t.clock.after] ?? null;
    if (start === null && t.clock.unknown !== 'never begins') start = days[t.clock.unknown] ?? null;
    if (start === null || t.period === null) return NEVER;
    return lastDayOf(t.clock.yearEnd ? yearEnd(start) : start, t.period);
  };

  it('is that of a slow reading of the rule, in any order, and never goes before a minimum or past a hold', () => {
    fc.assert(
      fc.property(
        fc.array(arbitraryRule, { maxLength: 5 }),
        fc.array(arbitraryBound, { maxLength: 4 }),
        fc.uniqueArray(fc.constantFrom('h1', 'h2'), { maxLength: 2 }),
        arbitraryItem,
        fc.boolean(),
        (someRules, someBounds, holds, of, turn) => {
          const rules = someRules.map((r, i) => ({ ...r, id: `${i}` }));
          const bounds = someBounds.map((b, i) => ({ ...b, id: `b${i}` }));
          const found = retentionVerdict(
            of,
            { rules: turn ? rules.toReversed() : rules, bounds: turn ? bounds.toReversed() : bounds, holds },
            TODAY,
          );
          // One after the other, whoever beats whom.
          const beats = (a: (typeof rules)[number], b: (typeof rules)[number]): boolean => {
            const specific = compareAbout(a.about, b.about);
            if (specific !== 0) return specific > 0;
            const [x, y] = [a.order ?? Infinity, b.order ?? Infinity];
            if (x !== y) return x < y;
            const [p, q] = [slowEnd(a, of), slowEnd(b, of)];
            if (p !== q) return of.hasPersonalData ? p < q : p > q;
            return a.id < b.id;
          };
          const best = rules.find((r) => rules.every((o) => o === r || beats(r, o)));
          expect(found.by).toBe(best?.id);
          const ends = (kind: Bound['kind']) =>
            bounds.filter((b) => b.kind === kind).map((b) => slowEnd(b, of));
          const least = ends('minimum').reduce((a, b) => (a > b ? a : b), '0');
          const most = ends('maximum').reduce((a, b) => (a < b ? a : b), NEVER);
          const acts =
            best?.then === 'anonymise' ? of.hasPersonalData : best !== undefined && best.then !== 'nothing';
          let wanted = best && acts ? slowEnd(best, of) : NEVER;
          if (most < wanted) wanted = most;
          if (wanted !== NEVER && wanted < least) wanted = least;
          expect(found.ends ?? NEVER).toBe(wanted);
          expect(found.goes).toBe(wanted === NEVER ? null : dayAfter(wanted));
          if (holds.length > 0) expect(found.state).toBe('held');
          if (found.state === 'due') {
            expect(holds).toEqual([]);
            expect(wanted < TODAY && least < TODAY).toBe(true);
            expect(found.then).not.toBe('nothing');
          }
          expect(new Set(found.lost.map((l) => l.rule)).size).toBe(Math.max(0, rules.length - 1));
        },
      ),
      { numRuns: 300 },
    );
  });
});
