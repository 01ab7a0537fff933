import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { audienceWords, groupMark, nearness, unitMark } from './audience.ts';
import { belongsTo, withinOf } from './staff.ts';
import { readStaff } from './staff-table.ts';

const within = new Map([
  ['MS Hale, deck', ['MS Hale']],
  ['MS Hale', ['At sea']],
  ['At sea', ['All staff']],
  ['All staff', ['At sea']],
  ['Safety', ['MS Hale']],
]);

describe('the groups of somebody', () => {
  it.each([
    [[], {}],
    [['MS Hale, deck'], { 'MS Hale, deck': 1, 'MS Hale': 2, 'At sea': 3, 'All staff': 4 }],
    [['MS Hale, deck', 'At sea'], { 'MS Hale, deck': 1, 'At sea': 1, 'MS Hale': 2, 'All staff': 2 }],
    [['nowhere'], { nowhere: 1 }],
  ])('of %j are told with how near they are', (own, wanted) => {
    expect(Object.fromEntries(belongsTo(own, within))).toEqual(wanted);
  });

  it('are those that a search step by step finds, by the shortest way, whatever stands in what', () => {
    const name = fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f');
    fc.assert(
      fc.property(
        fc.array(name, { maxLength: 3 }),
        fc.array(fc.tuple(name, name), { maxLength: 14 }),
        (own, edges) => {
          const graph = new Map<string, string[]>();
          for (const [inner, outer] of edges) graph.set(inner, [...(graph.get(inner) ?? []), outer]);
          // Every way of at most six steps, one by one.
          const slow = new Map<string, number>();
          const walk = (at: string, steps: number): void => {
            if (steps > 7) return;
            slow.set(at, Math.min(slow.get(at) ?? Infinity, steps));
            for (const next of graph.get(at) ?? []) walk(next, steps + 1);
          };
          for (const o of new Set(own)) walk(o, 1);
          expect(new Map([...belongsTo(own, graph)].toSorted())).toEqual(new Map([...slow].toSorted()));
        },
      ),
      { numRuns: 80 },
    );
  });
});

describe('an audience', () => {
  const ida = {
    address: 'ida@line.example',
    unit: 'Port',
    groups: new Map([
      ['Terminal', 1],
      ['Ashore', 2],
    ]),
  };
  it.each([
    [[], undefined],
    [['everyone'], Number.MAX_SAFE_INTEGER],
    [['everyone', groupMark('Ashore')], 2],
    [[groupMark('Ashore'), groupMark('Terminal')], 1],
    [[groupMark('At sea')], undefined],
    [['ida@line.example', 'everyone'], 0],
    [[unitMark('Port'), 'everyone'], 1],
    [[unitMark('Terminal')], undefined],
    [['IDA@line.example'], 0],
    [['other@line.example'], undefined],
    // A group that is called as a person is.
    [[groupMark('ida@line.example')], undefined],
  ])('%j is as near to somebody as its nearest part', (audience, wanted) => {
    expect(nearness(audience, ida)).toBe(wanted);
  });

  it('is said without its marks', () => {
    expect(['everyone', groupMark('At sea'), unitMark('Deck'), 'c@d.example'].map(audienceWords)).toEqual([
      'everyone',
      'At sea',
      'Deck',
      'c@d.example',
    ]);
  });
});

describe('a table of people', () => {
  const HEADINGS = ['Address', ' NAME ', 'unit', 'groups', 'left'];
  const read = (...rows: readonly (readonly string[])[]) => readStaff(HEADINGS, rows);

  it('has people and groups, also those that are only named', () => {
    const { staff, faults } = read(
      ['Ida@Line.example', 'Ida Kjær', 'Terminal', 'Terminal; Safety ;Terminal', ''],
      ['', 'Terminal', '', 'Ashore;Terminal', ''],
    );
    expect(faults).toEqual([]);
    expect(staff.members).toEqual([
      {
        address: 'ida@line.example',
        name: 'Ida Kjær',
        unit: 'Terminal',
        groups: ['Terminal', 'Safety'],
        left: null,
      },
    ]);
    expect([...withinOf(staff)]).toEqual([
      ['Terminal', ['Ashore']],
      ['Safety', []],
      ['Ashore', []],
    ]);
  });

  it.each([
    ['no address', ['Ida', 'Ida', '', '', ''], 'address'],
    ['no name', ['ida@line.example', '', '', '', ''], 'name'],
    ['a name too long', ['ida@line.example', 'x'.repeat(121), '', '', ''], 'name'],
    ['a day that is none', ['ida@line.example', 'Ida', '', '', '2026-02-29'], 'left'],
    ['a word for a day', ['ida@line.example', 'Ida', '', '', 'soon'], 'left'],
    ['a group name too long', ['ida@line.example', 'Ida', '', 'g'.repeat(121), ''], 'groups'],
  ])('is told the cell that cannot be taken: %s', (_, row, column) => {
    expect(read(row).faults).toMatchObject([{ row: 2, column }]);
  });

  it('takes a day as people write it', () => {
    const { staff } = read(['ida@line.example', 'Ida', '', '', '29.11.2026']);
    expect(staff.members[0]?.left).toBe('2026-11-29');
  });

  it('takes a leap day, and is told what stands in it twice', () => {
    const row = ['ida@line.example', 'Ida', '', '', '2028-02-29'];
    expect(read(row, row, ['', 'G', '', '', ''], ['', 'G', '', '', '']).faults).toEqual([
      { row: 3, column: 'address', words: 'ida@line.example stands in another row already.' },
      { row: 5, column: 'name', words: 'The group “G” stands in another row already.' },
    ]);
  });

  it('is told what column is missing, before all else', () => {
    expect(readStaff(['mail', 'unit'], [['x', 'y']]).faults.map((f) => f.words)).toEqual([
      'There is no column “address”.',
      'There is no column “name”.',
    ]);
  });
});
