import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../../../tests/property-runs.ts';
import { Bitmap } from './bitmap.ts';
import type { Fact, FactValue, LensVocabulary } from './fact.ts';
import { dayBefore } from './lens-day.ts';
import { conditionsOf, lensFaults } from './lens-faults.ts';
import { explainLens, holds, inLens, isWithin } from './lens-item.ts';
import type { ValueSets } from './fact-index.ts';
import { facet, IndexBuilder, lensSet } from './lens-set.ts';
import { LensTextError, lensText, parseLens } from './lens-text.ts';
import { lensWords } from './lens-words.ts';
import { clausesOf, EVERYTHING, Lens } from './lens.ts';

const TODAY = '2026-11-29';
const KINDS = ['manifest', 'payroll', 'invoice'];
const PLACES = ['port', 'port/manifests', 'port/manifests/2026', 'portable', 'crew'];
const FACTS: readonly Fact[] = [
  { id: 'kind', words: 'kind of document', type: 'choice' },
  { id: 'found:health', words: 'health conditions', type: 'number' },
  { id: 'data', words: 'kinds of data', type: 'choice' },
  { id: 'changed', words: 'changed', type: 'day' },
  { id: 'place', words: 'place', type: 'place' },
  { id: 'name', words: 'name', type: 'text' },
];
const VOCABULARY: LensVocabulary = {
  fact: (id) => FACTS.find((f) => f.id === id),
  value: (fact, value) =>
    (fact === 'kind' && KINDS.includes(value)) ||
    (fact === 'place' && PLACES.includes(value)) ||
    fact === 'data'
      ? value
      : undefined,
};

const typeOf = (id: string) => FACTS.find((f) => f.id === id)?.type ?? 'choice';
type Item = Readonly<Record<string, FactValue>>;
const factsOf = (item: Item) => (fact: string) => item[fact];

const anyDay = fc
  .integer({ min: 0, max: 1500 })
  .map((n) => new Date(Date.UTC(2023, 0, 1) + n * 86_400_000).toISOString().slice(0, 10));
const anyItem: fc.Arbitrary<Item> = fc.record(
  {
    kind: fc.option(fc.constantFrom(...KINDS), { nil: undefined }),
    'found:health': fc.option(fc.integer({ min: 0, max: 5 }), { nil: undefined }),
    data: fc.option(fc.subarray(['name', 'email', 'card']), { nil: undefined }),
    changed: fc.option(
      anyDay.map((d) => `${d}T23:59:59.000Z`),
      { nil: undefined },
    ),
    place: fc.constantFrom(...PLACES),
    name: fc.constantFrom('Bordliste Østervig.docx', 'payroll-2026.xlsx', 'RE: list.eml'),
  },
  { requiredKeys: ['place', 'name'] },
);
const anySpan = fc.record({
  count: fc.integer({ min: 1, max: 40 }),
  unit: fc.constantFrom('days' as const, 'months' as const, 'years' as const),
});
const anyClause: fc.Arbitrary<Lens> = fc.oneof(
  fc.subarray(KINDS, { minLength: 1 }).map((values) => ({ fact: 'kind', is: 'one of' as const, values })),
  fc
    .subarray(['name', 'card'], { minLength: 1 })
    .map((values) => ({ fact: 'data', is: 'one of' as const, values })),
  fc.integer({ min: 0, max: 5 }).map((number) => ({ fact: 'found:health', is: 'at least' as const, number })),
  fc.integer({ min: 0, max: 5 }).map((number) => ({ fact: 'found:health', is: 'at most' as const, number })),
  anyDay.map((day) => ({ fact: 'changed', is: 'since' as const, day })),
  anyDay.map((day) => ({ fact: 'changed', is: 'before' as const, day })),
  anySpan.map((span) => ({ fact: 'changed', is: 'within' as const, span })),
  anySpan.map((span) => ({ fact: 'changed', is: 'longer ago than' as const, span })),
  fc.constantFrom(...PLACES).map((place) => ({ fact: 'place', is: 'in' as const, place })),
  fc.constantFrom('list', 'ØSTER', 'x').map((text) => ({ fact: 'name', is: 'holding' as const, text })),
  fc.constantFrom(...FACTS).map(({ id }) => ({ fact: id, is: 'unknown' as const })),
);
const anyLens: fc.Arbitrary<Lens> = fc.letrec<{ lens: Lens }>((tie) => ({
  lens: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    anyClause,
    fc.array(tie('lens'), { maxLength: 3 }).map((all) => ({ all })),
    fc.array(tie('lens'), { maxLength: 3 }).map((any) => ({ any })),
    tie('lens').map((not) => ({ not })),
  ),
})).lens;

describe('a lens', () => {
  it('finds the same items one by one and as sets', () =>
    fc.assert(
      fc.property(anyLens, fc.array(anyItem, { maxLength: 60 }), (lens, items) => {
        const builder = new IndexBuilder(typeOf);
        items.forEach((item, i) => builder.add(i, Object.entries(item)));
        const set = lensSet(lens, builder.done(), TODAY);
        expect([...set.numbers()]).toEqual(
          items.flatMap((item, i) => (holds(lens, factsOf(item), TODAY) ? [i] : [])),
        );
      }),
      runs(400),
    ));

  it('explains what it decides, each condition for itself', () =>
    fc.assert(
      fc.property(anyLens, anyItem, (lens, item) => {
        const explained = explainLens(lens, factsOf(item), TODAY);
        expect(explained.holds).toBe(holds(lens, factsOf(item), TODAY));
        const leaves = (e: typeof explained): number =>
          'of' in e ? e.of.reduce((n, x) => n + leaves(x), 0) : 1;
        expect(leaves(explained)).toBe(clausesOf(lens).length);
      }),
    ));

  it('is read back from how it is stored, and nothing else is', () =>
    fc.assert(
      fc.property(anyLens, (lens) => {
        expect(Lens.parse(JSON.parse(JSON.stringify(lens)))).toEqual(lens);
        expect(Lens.safeParse({ ...lens, sql: 'x' }).success).toBe(false);
      }),
    ));

  it('is read back from its line', () =>
    fc.assert(
      fc.property(anyLens, (lens) => {
        expect(parseLens(lensText(lens))).toEqual(lens);
      }),
      runs(400),
    ));

  it.each([
    [
      'kind one of "a" and place in "x" or name unknown',
      '(kind one of "a" and place in "x") or name unknown',
    ],
    ['not kind unknown and name unknown', '(not kind unknown) and name unknown'],
    ['changed within 1 year', 'changed within 1 years'],
    ['  everything  ', 'everything'],
  ])('typed as “%s” is “%s”', (typed, line) => expect(lensText(parseLens(typed))).toBe(line));

  it.each([
    ['', 'At the end, the name of a fact is missing.', 0],
    ['kind', 'At the end, one of, at least', 4],
    ['kind one of payroll', 'Here stands “payroll”, where a text in quotes should.', 12],
    ['kind one of "payroll', 'A quote is not closed here.', 11],
    ['(kind unknown', 'At the end, a closing bracket is missing.', 13],
    ['kind unknown name unknown', 'Here stands “name”, where and, or, or the end should.', 13],
    ['changed since 20 Nov', 'a day such as 2026-11-20', 14],
    ['found:health at least many', 'where a number should', 22],
    ['"kind" unknown', 'where the name of a fact should', 0],
    ['('.repeat(99), 'too many brackets', 32],
    ['not '.repeat(99) + 'kind unknown', '“not” too often', 128],
  ])('“%s” is refused: %s', (typed, says, at) => {
    let told: unknown;
    try {
      parseLens(typed);
    } catch (error) {
      told = error;
    }
    expect(told).toBeInstanceOf(LensTextError);
    expect((told as LensTextError).message).toContain(says);
    expect((told as LensTextError).at).toBe(at);
  });

  it('is read from any line, or the line is refused', () =>
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc
            .array(fc.constantFrom('kind', 'one', 'of', '"a"', '(', ')', 'and', 'not', '\\'), {
              maxLength: 20,
            })
            .map((w) => w.join(' ')),
        ),
        (line) => {
          try {
            expect(parseLens(lensText(parseLens(line)))).toEqual(parseLens(line));
          } catch (error) {
            expect(error).toBeInstanceOf(LensTextError);
          }
        },
      ),
      runs(500),
    ));

  it.each<[Lens, string]>([
    [{ all: [] }, ''],
    [{ not: { all: [] } }, 'not anything'],
    [
      { fact: 'kind', is: 'one of', values: ['payroll', 'invoice', 'manifest'] },
      'kind of document is payroll, invoice or manifest',
    ],
    [
      {
        all: [
          { fact: 'found:health', is: 'at least', number: 2 },
          {
            any: [
              { fact: 'changed', is: 'within', span: { count: 1, unit: 'years' } },
              { fact: 'place', is: 'in', place: 'port' },
            ],
          },
        ],
      },
      'health conditions at least 2 and (changed within the last 1 year or place in port)',
    ],
    [
      {
        not: {
          all: [
            { fact: 'changed', is: 'before', day: '2026-01-05' },
            { fact: 'name', is: 'unknown' },
          ],
        },
      },
      'not (changed before 5 Jan 2026 and name not known)',
    ],
    [{ fact: 'kind', is: 'one of', values: ['roster'] }, 'kind of document is “roster”, which is gone'],
  ])('%o reads “%s”', (lens, words) => expect(lensWords(lens, VOCABULARY)).toBe(words));

  it('of nothing is everything, and of any of nothing is nothing', () => {
    expect(holds(EVERYTHING, () => undefined, TODAY)).toBe(true);
    expect(holds({ any: [] }, () => undefined, TODAY)).toBe(false);
  });

  it.each<[string, Lens, string | undefined]>([
    ['a fact', { fact: 'level', is: 'unknown' }, 'There is no “level” any more.'],
    [
      'a value',
      { fact: 'kind', is: 'one of', values: ['payroll', 'roster'] },
      'kind of document: there is no “roster” any more.',
    ],
    ['a place', { fact: 'place', is: 'in', place: 'old' }, 'place: there is no “old” any more.'],
    [
      'what it cannot be asked',
      { fact: 'name', is: 'at least', number: 2 },
      '“name” cannot be asked whether it is at least.',
    ],
    ['nothing', { fact: 'kind', is: 'one of', values: ['payroll'] }, undefined],
  ])('that names %s that is gone says so and matches nothing, also turned round', (_, clause, words) => {
    const item = factsOf({ kind: 'payroll', place: 'port', name: 'x' });
    expect(lensFaults(clause, VOCABULARY)[0]?.words).toBe(words);
    const faulty = words !== undefined;
    for (const lens of [{ not: { all: [clause] } }, { any: [EVERYTHING, clause] }] as const)
      expect(inLens(lens, item, TODAY, VOCABULARY)).toBe(!faulty && holds(lens, item, TODAY));
  });

  it('knows which conditions a fact takes', () => {
    expect(conditionsOf('number')).toEqual(['at least', 'at most', 'unknown']);
    expect(conditionsOf('place')).toEqual(['in', 'unknown']);
  });
});

describe('time', () => {
  it.each([
    ['2026-03-31', { count: 1, unit: 'months' as const }, '2026-02-28'],
    ['2028-03-31', { count: 1, unit: 'months' as const }, '2028-02-29'],
    ['2028-02-29', { count: 1, unit: 'years' as const }, '2027-02-28'],
    ['2026-03-30', { count: 2, unit: 'days' as const }, '2026-03-28'],
    ['2026-01-01', { count: 1, unit: 'days' as const }, '2025-12-31'],
  ])('before %s by %o is %s', (day, span, before) => expect(dayBefore(day, span)).toBe(before));

  it('has no day that is both within a span and longer ago, and none that is neither', () =>
    fc.assert(
      fc.property(anyDay, anySpan, (day, span) => {
        const facts = factsOf({ changed: day });
        const within = holds({ fact: 'changed', is: 'within', span }, facts, TODAY);
        expect(holds({ fact: 'changed', is: 'longer ago than', span }, facts, TODAY)).toBe(!within);
      }),
    ));
});

it.each([
  ['share/a', 'share/a', true],
  ['share/a/b', 'share/a', true],
  ['share/ab', 'share/a', false],
  ['share', 'share/a', false],
  ['share/a', 'share/', true],
])('%s is within %s: %s', (place, above, is) => expect(isWithin(place, above)).toBe(is));

describe('sets of items', () => {
  const MOST = 200_000;
  const anySet = fc.oneof(
    fc.array(fc.integer({ min: 0, max: MOST }), { maxLength: 200 }),
    // Dense runs, so that blocks become bits and lists again.
    fc
      .array(fc.tuple(fc.integer({ min: 0, max: MOST }), fc.integer({ min: 1, max: 9000 })), { maxLength: 4 })
      .map((spans) => spans.flatMap(([from, n]) => Array.from({ length: n }, (_, i) => from + i))),
  );
  const plain = (b: Bitmap) => [...b.numbers()];
  const sorted = (s: Iterable<number>) => [...s].sort((a, b) => a - b);

  it('are those of sets', () =>
    fc.assert(
      fc.property(anySet, anySet, (x, y) => {
        const [a, b] = [new Set(x), new Set(y)];
        const [p, q] = [Bitmap.of(x), Bitmap.of(y)];
        expect(p.size).toBe(a.size);
        expect(plain(p)).toEqual(sorted(a));
        const each: number[] = [];
        p.forEach((n) => each.push(n));
        expect(each).toEqual(sorted(a));
        expect(p.first(x.length % 7, y[0])).toEqual(
          sorted(a)
            .filter((n) => n >= (y[0] ?? 0))
            .slice(0, x.length % 7),
        );
        const both = [...a].filter((n) => b.has(n));
        expect(plain(p.and(q))).toEqual(sorted(both));
        expect(p.countAnd(q)).toBe(both.length);
        expect(plain(p.or(q))).toEqual(sorted(new Set([...a, ...b])));
        expect(plain(p.without(q))).toEqual(sorted([...a].filter((n) => !b.has(n))));
        for (const n of [...x.slice(0, 5), ...y.slice(0, 5), 0, 65_535, 65_536])
          expect(p.has(n)).toBe(a.has(n));
        expect(p.or(q).without(q).or(p.and(q)).equals(p)).toBe(true);
      }),
      runs(60),
    ));

  it('are united all at once as two by two', () =>
    fc.assert(
      fc.property(fc.array(anySet, { maxLength: 6 }), (all) => {
        const sets = all.map((x) => Bitmap.of(x));
        const slow = sets.reduce((a, b) => a.or(b), Bitmap.EMPTY);
        expect(Bitmap.union(sets).toBytes()).toEqual(slow.toBytes());
      }),
      runs(40),
    ));

  it('are the same again from their bytes, and equal ones have equal bytes', () =>
    fc.assert(
      fc.property(anySet, (x) => {
        const set = Bitmap.of(x);
        expect(Bitmap.fromBytes(set.toBytes()).equals(set)).toBe(true);
        expect(Bitmap.of(x.toReversed()).or(set).toBytes()).toEqual(set.toBytes());
      }),
      runs(40),
    ));

  it('are not read from bytes that none wrote', () =>
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 60 }), (bytes) => {
        try {
          const set = Bitmap.fromBytes(bytes);
          expect(set.toBytes()).toEqual(bytes);
        } catch (error) {
          expect(error).toBeInstanceOf(RangeError);
        }
      }),
      runs(500),
    ));

  it.each([0, 1, 31, 32, 4096, 4097, 65_535, 65_536, 65_537, 140_000])('up to %i', (end) => {
    const set = Bitmap.upTo(end);
    expect(set.size).toBe(end);
    expect(set.has(end)).toBe(false);
    expect(end === 0 || set.has(end - 1)).toBe(true);
    expect([...set.numbers(Math.max(0, end - 2))]).toHaveLength(Math.min(2, end));
  });

  it('are counted by value', () => {
    const builder = new IndexBuilder(typeOf);
    ['a', 'b', 'a', undefined, 'c', 'a'].forEach((v, i) => builder.add(i, [['kind', v]]));
    const index = builder.done();
    const kind = index.fact('kind') as ValueSets;
    expect(facet(index.all, kind)).toEqual([
      ['a', 3],
      ['b', 1],
      ['c', 1],
    ]);
    expect(facet(Bitmap.of([1, 2, 3]), kind)).toEqual([
      ['a', 1],
      ['b', 1],
    ]);
  });
});
