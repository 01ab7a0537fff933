import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BlockIndex, buildBlock, type IndexedItem } from '../../holdings/offers.ts';
import { Bitmap } from '../../lens/bitmap.ts';
import { dayNumber } from '../../lens/fact-index.ts';
import type { Lens } from '../../lens/lens.ts';
import type { Day, Period } from '../clock/period.ts';
import { BlockJudge, NEVER, THENS } from './block-verdicts.ts';
import { itemVerdict } from './item-verdict.ts';
import type { RetentionVerdict, Then } from './retention-verdict.ts';
import type { ResolvedScope, Weighed } from './weighed.ts';

const TODAY = '2026-11-29';
const ZONE = 'Europe/Copenhagen';

const lens = fc.constantFrom<Lens>(
  { all: [] },
  { fact: 'document', is: 'one of', values: ['manifest'] },
  { fact: 'people', is: 'at least', number: 5 },
  {
    all: [
      { fact: 'owner', is: 'one of', values: ['tove'] },
      { not: { fact: 'data', is: 'one of', values: ['email'] } },
    ],
  },
  { any: [] },
  { fact: 'changed', is: 'longer ago than', span: { count: 2, unit: 'years' } },
);
const scope: fc.Arbitrary<ResolvedScope> = fc
  .record({
    lens,
    places: fc.uniqueArray(fc.constantFrom('1', '2', '1/a', '1/a/b', '*/a', '1/*/b'), { maxLength: 3 }),
  })
  .map(({ lens: of, places }) => ({ lens: of, places, wide: 'all' in of && of.all.length === 0 }));
const period = fc.option(
  fc.record<Period>({
    count: fc.integer({ min: 1, max: 14 }),
    unit: fc.constantFrom('days', 'months', 'years'),
  }),
  { freq: 8 },
);
const term = fc.record({
  period,
  clock: fc.record({
    after: fc.constantFrom('created', 'changed', 'event:1', 'event:2'),
    yearEnd: fc.boolean(),
    unknown: fc.constantFrom('created', 'changed', 'never begins'),
  }),
});
const then = fc.constantFrom<Then>(...THENS);
const order = fc.option(fc.integer({ min: 0, max: 2 }), { freq: 2 });
const day = fc.date({ min: new Date('2015-01-01'), max: new Date('2026-11-28'), noInvalidDate: true });
const instant = fc.option(
  day.map((d) => d.toISOString()),
  { freq: 9 },
);
const isoDay = day.map((d) => d.toISOString().slice(0, 10));
const listed = <T>(of: fc.Arbitrary<T>, most: number) =>
  fc.array(of, { maxLength: most }).map((all) => all.map((one, i) => ({ id: `${i}`, ...one })));

const item = fc.record<Omit<IndexedItem, 'id'>>({
  source: fc.constantFrom('1', '2'),
  place: fc.constantFrom('', 'a', 'a/b', 'x/b/c'),
  name: fc.constant('x'),
  size: fc.constant(1),
  created: instant,
  changed: instant,
  owner: fc.constantFrom('', 'tove', 'osei'),
  format: fc.constant('pdf'),
  state: fc.constant('read'),
  document: fc.constantFrom(null, 'manifest'),
  people: fc.constantFrom(0, 0, 9),
  findings: fc.subarray([
    { detector: 'manifest', matches: 1, confidence: 1 },
    { detector: 'email', matches: 3, confidence: 0.9 },
  ]),
  hashes: fc.constant(new Uint8Array()),
});

interface Estate {
  readonly items: readonly IndexedItem[];
  readonly weighed: Weighed;
  readonly events: readonly ReadonlyMap<string, Day>[];
}

/** Items with gaps between their numbers, across the edge of a block. */
const estate: fc.Arbitrary<Estate> = fc
  .record({
    first: fc.constantFrom(1, 65_533),
    items: fc.array(
      fc.tuple(
        item,
        fc.record({
          one: fc.option(isoDay),
          two: fc.option(isoDay),
          own: fc.array(fc.nat(3), { maxLength: 2 }),
        }),
      ),
      { minLength: 1, maxLength: 12 },
    ),
    rules: listed(
      fc.record({ scope, then, order }).chain((r) => term.map((t) => ({ ...r, ...t }))),
      7,
    ),
    bounds: listed(
      fc
        .record({ scope, kind: fc.constantFrom('minimum' as const, 'maximum' as const) })
        .chain((r) => term.map((t) => ({ ...r, ...t }))),
      4,
    ),
    holds: listed(fc.record({ scope, from: fc.option(isoDay), until: fc.option(isoDay) }), 3),
    own: fc.array(
      fc.record({ then, order }).chain((r) => term.map((t) => ({ ...r, ...t }))),
      { minLength: 4, maxLength: 4 },
    ),
  })
  .map(({ first, items, rules, bounds, holds, own }) => {
    const idOf = (i: number) => first + i * 2;
    const known = (which: 'one' | 'two') =>
      items.flatMap(([, e], i) => (e[which] === null ? [] : [[idOf(i), dayNumber(e[which])] as const]));
    const event = (id: string, of: ReturnType<typeof known>) => ({
      id,
      items: Uint32Array.from(of, ([at]) => at),
      days: Int32Array.from(of, ([, d]) => d),
    });
    return {
      items: items.map(([i], at) => ({ ...i, id: idOf(at) })),
      events: items.map(
        ([, e]) =>
          new Map([
            ...(e.one === null ? [] : [['event:1', e.one] as const]),
            ...(e.two === null ? [] : [['event:2', e.two] as const]),
          ]),
      ),
      weighed: {
        ...{ zone: ZONE, rules, bounds, holds },
        exceptions: own.map((e, n) => ({
          ...e,
          id: `own ${n}`,
          items: Bitmap.of(items.flatMap(([, x], i) => (x.own.includes(n) ? [idOf(i)] : []))),
        })),
        events: [event('event:1', known('one')), event('event:2', known('two'))],
      },
    };
  });

describe('the verdicts on a block', () => {
  it('are those on each of its items, whatever rules, bounds, holds and exceptions there are', () => {
    fc.assert(
      fc.property(estate, ({ items, weighed, events }) => {
        const judge = new BlockJudge(weighed, TODAY);
        const blocks = new Map(
          [0, 1].map((number) => {
            const index = new BlockIndex(number, buildBlock(items.filter((i) => i.id >> 16 === number)));
            return [number, { index, found: judge.verdicts(index) }];
          }),
        );
        const ends = (at: Day | null) => (at === null ? NEVER : dayNumber(at));
        const ids = [...weighed.rules, ...weighed.exceptions].map((r) => r.id);
        for (const [i, one] of items.entries()) {
          const block = blocks.get(one.id >> 16);
          if (!block) throw new Error('It lies in no block.');
          const { index, found } = block;
          const at = index.at(one.id & 0xffff);
          const slow: RetentionVerdict = itemVerdict(
            one,
            weighed,
            events[i] ?? new Map<string, Day>(),
            TODAY,
          );
          expect({
            ends: found.ends[at],
            ruleEnds: found.ruleEnds[at],
            by: ids[found.by[at] ?? -1],
            then: THENS[found.then[at] ?? -1],
            movedBy: weighed.bounds[found.movedBy[at] ?? -1]?.id,
            crosses: found.crosses[at] === 1,
            holds: weighed.holds.filter((_, h) => found.held[h]?.has(one.id & 0xffff)).map((h) => h.id),
          }).toEqual({
            ends: ends(slow.ends),
            ruleEnds: ends(slow.ruleEnds),
            by: slow.by,
            then: slow.then,
            movedBy: slow.movedBy,
            crosses: slow.conflict !== undefined,
            holds: slow.holds,
          });
        }
      }),
      { numRuns: 400 },
    );
  });
});
