import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../../../../tests/property-runs.ts';
import { holds } from '../../lens/lens-item.ts';
import { Bitmap } from '../../lens/bitmap.ts';
import { EVERYTHING, type Lens } from '../../lens/lens.ts';
import { ITEM_FACTS, itemFact, itemFactType, itemVocabulary } from './item-facts.ts';
import { dataCounts, itemFigures, itemPage, placesBelow, type ItemOrder } from './item-figures.ts';
import {
  BLOCK_ITEMS,
  BlockIndex,
  buildBlock,
  changedItems,
  idsOf as idsOfAll,
  levelSets,
  onlyThose,
  select,
  type IndexedItem,
} from './item-index.ts';

const TODAY = '2026-11-29';
const DETECTORS = ['email', 'dk-cpr', 'health-condition'];
const PLACES = ['', 'Manifests', 'Manifests/2026', 'Manifests-old', 'a/b/c'];

const anyMoment = fc.option(
  fc
    .integer({ min: 0, max: 4000 })
    .map((n) => new Date(Date.UTC(2016, 0, 1) + n * 86_400_000 + 3_600_000).toISOString()),
);
const anyItem: fc.Arbitrary<IndexedItem> = fc.record({
  id: fc.constant(0),
  source: fc.constantFrom('1', '2', '12'),
  place: fc.constantFrom(...PLACES),
  name: fc.constantFrom('list.xlsx', 'Bordliste Ø.docx', 'RE: list'),
  size: fc.integer({ min: 0, max: 1e12 }),
  created: anyMoment,
  changed: anyMoment,
  owner: fc.constantFrom('', 'tove', 'osei'),
  format: fc.constantFrom('', 'XLSX', 'DOCX'),
  state: fc.constantFrom('read' as const, 'unreadable' as const),
  level: fc.option(
    fc.record({ id: fc.constantFrom('open', 'strict'), by: fc.constantFrom('hand', 'rule:7') }),
    { nil: undefined },
  ),
  document: fc.option(fc.constantFrom('manifest', 'payroll')),
  people: fc.integer({ min: 0, max: 500 }),
  findings: fc.subarray(DETECTORS).chain((ds) =>
    fc.tuple(
      ...ds.map((detector) =>
        fc.record({
          detector: fc.constant(detector),
          matches: fc.integer({ min: 1, max: 9 }),
          confidence: fc.double({ min: 0.4, max: 1, noNaN: true }),
        }),
      ),
    ),
  ),
  hashes: fc
    .uint8Array({ minLength: 0, maxLength: 3 })
    .map((b) => Uint8Array.from([...b].flatMap((x) => [x, 1, 2, 3, 4, 5, 6, 7]))),
});
/** With rising ids that skip some, over two blocks. */
const anyItems = fc
  .array(fc.tuple(anyItem, fc.integer({ min: 1, max: 7000 })), { maxLength: 40 })
  .map((all) => {
    let id = 0;
    return all.map(([item, gap]): IndexedItem => ({ ...item, id: (id += gap) }));
  });

const anyClause: fc.Arbitrary<Lens> = fc.oneof(
  fc.subarray(DETECTORS, { minLength: 1 }).map((values) => ({ fact: 'data', is: 'one of' as const, values })),
  fc.constantFrom('manifest', 'none').map((v) => ({ fact: 'document', is: 'one of' as const, values: [v] })),
  fc
    .constantFrom('1', '1/Manifests', '2/Manifests/2026', '12')
    .map((place) => ({ fact: 'place', is: 'in' as const, place })),
  fc.constantFrom('changed', 'created').chain((fact) =>
    fc.oneof(
      fc
        .integer({ min: 1, max: 9 })
        .map((count) => ({ fact, is: 'within' as const, span: { count, unit: 'years' as const } })),
      fc
        .integer({ min: 1, max: 40 })
        .map((count) => ({ fact, is: 'longer ago than' as const, span: { count, unit: 'months' as const } })),
      fc.constantFrom('2020-05-01', '2024-02-29').map((day) => ({ fact, is: 'before' as const, day })),
    ),
  ),
  fc.constantFrom('strict', 'gone').map((v) => ({ fact: 'level', is: 'one of' as const, values: [v] })),
  fc.constantFrom('tove', 'nobody').map((v) => ({ fact: 'owner', is: 'one of' as const, values: [v] })),
  fc.constantFrom('LIST', 'ø', 'zzz').map((text) => ({ fact: 'name', is: 'holding' as const, text })),
  fc.constantFrom('unreadable', 'read').map((v) => ({ fact: 'state', is: 'one of' as const, values: [v] })),
  fc
    .constantFrom('people', 'size', 'matches:email', 'confidence:dk-cpr')
    .chain((fact) =>
      fc
        .tuple(
          fc.constantFrom('at least' as const, 'at most' as const),
          fc.constantFrom(0, 3, 95, 96.4, 250, 5e11),
        )
        .map(([is, number]) => ({ fact, is, number })),
    ),
  fc
    .constantFrom(...ITEM_FACTS.map((f) => f.id), 'matches:email', 'confidence:email')
    .map((fact) => ({ fact, is: 'unknown' as const })),
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

function blocksOf(items: readonly IndexedItem[]): readonly BlockIndex[] {
  const numbers = [...new Set(items.map((i) => Math.floor(i.id / BLOCK_ITEMS)))];
  return numbers.map(
    (n) => new BlockIndex(n, buildBlock(items.filter((i) => Math.floor(i.id / BLOCK_ITEMS) === n))),
  );
}

const idsOf = (selection: ReturnType<typeof select>) =>
  selection.parts.flatMap(({ index, set }) => [...set.numbers()].map((n) => index.number * BLOCK_ITEMS + n));

describe('items in blocks', () => {
  it('have levels as each of them says, and only those asked for', () =>
    fc.assert(
      fc.property(anyItems, anyLens, fc.integer({ min: 2, max: 5 }), (items, lens, every) => {
        const selection = select(blocksOf(items), lens, TODAY);
        const mine = new Set(idsOf(selection));
        const sets = levelSets(selection);
        for (const item of items) {
          const has = sets.filter((s) => s.items.has(item.id)).map((s) => [s.level, s.by]);
          expect(has).toEqual(mine.has(item.id) && item.level ? [[item.level.id, item.level.by]] : []);
        }
        const wanted = items.map((i) => i.id).filter((id) => id % every === 0);
        expect(idsOf(onlyThose(selection, Bitmap.of(wanted)))).toEqual(wanted.filter((id) => mine.has(id)));
      }),
      runs(100),
    ));

  it('are the same under a lens as one by one', () =>
    fc.assert(
      fc.property(anyItems, anyLens, (items, lens) => {
        const expected = items
          .filter((i) => holds(lens, (fact) => itemFact(i, fact), TODAY))
          .map((i) => i.id);
        const selection = select(blocksOf(items), lens, TODAY);
        expect(idsOf(selection)).toEqual(expected);
        expect(selection.size).toBe(expected.length);
      }),
      runs(300),
    ));

  it('are kept to the sources that somebody looks after', () =>
    fc.assert(
      fc.property(anyItems, anyLens, fc.subarray(['1', '2']), (items, lens, sources) => {
        const ids = new Set(idsOf(select(blocksOf(items), lens, TODAY, sources)));
        for (const i of items)
          expect(ids.has(i.id)).toBe(sources.includes(i.source) && holds(lens, (f) => itemFact(i, f), TODAY));
      }),
      runs(100),
    ));

  it('that came into a lens or left it are those that one by one are in it on one side alone', () =>
    fc.assert(
      fc.property(
        anyItems,
        anyLens,
        anyLens,
        fc.option(fc.subarray(['1', '2']), { nil: undefined }),
        fc.boolean(),
        (items, before, after, sources, past) => {
          const blocks = blocksOf(items);
          const then = Bitmap.fromBytes(idsOfAll(select(blocks, before, TODAY)).toBytes());
          const selection = select(blocks, past ? EVERYTHING : after, TODAY, sources);
          const later = past ? idsOfAll(select(blocks, after, TODAY)) : undefined;
          const inLens = (lens: Lens, i: IndexedItem) => holds(lens, (f) => itemFact(i, f), TODAY);
          for (const which of ['came', 'left'] as const) {
            const changed = idsOf(changedItems(selection, { then, later, which }, sources));
            const slow = items
              .filter((i) => !sources || sources.includes(i.source))
              .filter((i) => inLens(before, i) === (which === 'left'))
              .filter((i) => inLens(after, i) === (which === 'came'))
              .map((i) => i.id)
              .sort((a, b) => a - b);
            expect([...changed].sort((a, b) => a - b)).toEqual(slow);
          }
        },
      ),
      runs(100),
    ));

  it('are counted as if each was looked at', () =>
    fc.assert(
      fc.property(anyItems, anyLens, (items, lens) => {
        const mine = items.filter((i) => holds(lens, (fact) => itemFact(i, fact), TODAY));
        const figures = itemFigures(select(blocksOf(items), lens, TODAY));
        const by = (keys: (i: IndexedItem) => readonly string[]) => {
          const counts = new Map<string, number>();
          for (const k of mine.flatMap(keys)) counts.set(k, (counts.get(k) ?? 0) + 1);
          return Object.fromEntries(counts);
        };
        const told = (all: readonly { value: string; count: number }[]) =>
          Object.fromEntries(all.map((c) => [c.value, c.count]));
        const data = (i: IndexedItem) => i.findings.map((f) => f.detector);
        expect(figures.items).toBe(mine.length);
        expect(figures.bytes).toBe(mine.reduce((n, i) => n + i.size, 0));
        expect(figures.unreadable).toBe(mine.filter((i) => i.state === 'unreadable').length);
        expect(told(figures.data)).toEqual(by(data));
        expect(dataCounts(select(blocksOf(items), lens, TODAY))).toEqual(figures.data);
        expect(told(figures.documents)).toEqual(by((i) => [i.document ?? '']));
        expect(told(figures.sources)).toEqual(by((i) => [i.source]));
        expect(told(figures.owners)).toEqual(by((i) => [i.owner]));
        expect(told(figures.formats)).toEqual(by((i) => [i.format]));
        expect(told(figures.levels)).toEqual(by((i) => [i.level?.id ?? '']));
        expect(told(figures.years)).toEqual(by((i) => [i.changed?.slice(0, 4) ?? '']));
        expect(
          Object.fromEntries(
            figures.matrix.flatMap((r) => r.data.map((d) => [`${r.document} ${d.value}`, d.count])),
          ),
        ).toEqual(by((i) => data(i).map((d) => `${i.document ?? ''} ${d}`)));
        const people = new Set(
          mine.flatMap((i) => Array.from({ length: i.hashes.length / 8 }, (_, n) => i.hashes[n * 8])),
        );
        expect(figures.people).toEqual({ people: people.size, error: 0 });
      }),
      runs(150),
    ));

  it('are listed page by page, each once, the largest first', () =>
    fc.assert(
      fc.property(
        anyItems,
        fc.constantFrom<ItemOrder>('people', 'size', 'changed', 'matches:email'),
        fc.integer({ min: 1, max: 7 }),
        (items, order, size) => {
          const selection = select(blocksOf(items), { all: [] }, TODAY);
          const listed: { id: number; value: number }[] = [];
          for (let after: readonly [number, number] | undefined; ;) {
            const page = itemPage(selection, order, after, size);
            listed.push(...page);
            const last = page.at(-1);
            if (!last || page.length < size) break;
            after = [last.value, last.id];
          }
          const fact = (i: IndexedItem) =>
            order === 'changed' ? (i.changed ? Date.parse(i.changed) : -1) : Number(itemFact(i, order) ?? 0);
          const expected = items
            .map((i) => ({ id: i.id, value: fact(i) }))
            .toSorted((a, b) => b.value - a.value || a.id - b.id);
          expect(listed).toEqual(expected);
        },
      ),
      runs(150),
    ));

  it('add up along the tree of places', () =>
    fc.assert(
      fc.property(anyItems, (items) => {
        const selection = select(blocksOf(items), { all: [] }, TODAY);
        const sources = placesBelow(selection, '');
        expect(sources.reduce((n, p) => n + p.items, 0)).toBe(items.length);
        for (const p of sources) {
          const below = placesBelow(selection, p.value);
          expect(below.length > 0).toBe(p.opens);
          const inside = idsOf(select(blocksOf(items), { fact: 'place', is: 'in', place: p.value }, TODAY));
          expect(p.items).toBe(inside.length);
          expect(below.reduce((n, b) => n + b.items, 0)).toBe(
            items.filter((i) => i.source === p.value && i.place !== '').length,
          );
        }
      }),
      runs(80),
    ));
});

describe('what a lens can name', () => {
  const vocabulary = itemVocabulary({
    sources: new Map([['1', 'Port share']]),
    detectors: new Map([['email', 'E-mail address']]),
    levels: new Map([['strict', 'Strictly confidential']]),
    levelRules: new Map([['7', 'Cards are strict']]),
  });

  it.each([
    ['data', 'email', 'E-mail address'],
    ['level', 'strict', 'Strictly confidential'],
    ['level', 'gone', undefined],
    ['level-by', 'hand', 'somebody'],
    ['level-by', 'document', 'the document'],
    ['level-by', 'rule:7', 'Cards are strict'],
    ['level-by', 'rule:8', undefined],
    ['place', '1/Manifests/2026', 'Port share › Manifests › 2026'],
    ['place', '9/Manifests', undefined],
    ['document', 'gone', undefined],
    ['owner', 'tove', 'tove'],
  ])('%s %s reads %s', (fact, value, words) => expect(vocabulary.value(fact, value)).toBe(words));

  it('has facts of detectors that there are', () => {
    expect(vocabulary.fact('matches:email')).toMatchObject({
      type: 'number',
      words: 'matches of E-mail address',
    });
    expect(vocabulary.fact('matches:gone')).toBeUndefined();
    expect(vocabulary.fact('changed')?.type).toBe(itemFactType('changed'));
  });
});
