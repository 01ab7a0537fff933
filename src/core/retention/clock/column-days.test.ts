import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ColumnDays, dayOfCell } from './column-days.ts';
import { MarkedDays } from './name-days.ts';

describe('the day of a cell', () => {
  it.each([
    ['2026-07-02', '2026-07-02'],
    [' 2 July 2026 ', '2026-07-02'],
    ['02.07.2026', '2026-07-02'],
    // A time without an offset is on its own day, wherever that is.
    ['2026-07-02 23:59:59', '2026-07-02'],
    ['2026-07-02T00:00', '2026-07-02'],
    // An instant is on the day that it has in Copenhagen: two hours ahead in summer, one in winter.
    ['2026-07-01T22:00:00Z', '2026-07-02'],
    ['2026-07-01T21:59:59.999Z', '2026-07-01'],
    ['2026-12-31 23:00:00+00', '2027-01-01'],
    ['2026-12-31 22:59:59+00', '2026-12-31'],
    ['2026-07-02 00:30:00+0530', '2026-07-01'],
    ['2026-07-02 00:30:00-03:00', '2026-07-02'],
    // The night in which the clocks go back, before and after.
    ['2026-10-24T22:30:00Z', '2026-10-25'],
    ['2026-10-25T22:30:00Z', '2026-10-25'],
    ['2028-02-29', '2028-02-29'],
  ])('%j is on %s', (cell, day) => {
    expect(dayOfCell(cell, 'Europe/Copenhagen')).toBe(day);
  });

  it.each([
    '',
    'soon',
    '2026-02-30',
    '2027-02-29 10:00:00',
    '0000-00-00',
    '2026-07-02 25:00:00Z',
    '1750000000',
  ])('%j is none', (cell) => {
    expect(dayOfCell(cell, 'Europe/Copenhagen')).toBeUndefined();
  });
});

describe('two columns of a table', () => {
  const of = (...rows: readonly (readonly [string, string])[]) => {
    const column = new ColumnDays('UTC');
    for (const [mark, day] of rows) column.add(mark, day);
    return column;
  };

  it('tell days by what names hold, whatever parts its words', () => {
    const { days, unread, twice } = of(['MS-Hale/2026_07_02', '2026-07-04'], ['Færge 12', '2026-07-05']);
    expect([unread, twice]).toEqual([0, 0]);
    const marked = new MarkedDays(days);
    expect(marked.dayIn('manifest ms hale 2026-07-02.xlsx')).toBe('2026-07-04');
    expect(marked.dayIn('færge-12.pdf')).toBe('2026-07-05');
    expect(marked.dayIn('færge-123.pdf')).toBeUndefined();
  });

  it('count rows that tell nothing, and leave numbers of rows out', () => {
    const { days, unread } = of(
      ['', '2026-07-04'],
      ['Hale', ''],
      ['Hale', 'never'],
      ['12', '2026-07-04'],
      ['x'.repeat(161), '2026-07-04'],
    );
    expect([days.size, unread]).toEqual([0, 5]);
  });

  it('keep the latest day of each mark, in whatever order they stand', () => {
    const row = fc.tuple(
      fc.constantFrom('Hale', 'BRINDLE', 'brindle', 'ha-le'),
      fc.integer({ min: 1, max: 28 }),
    );
    fc.assert(
      fc.property(fc.array(row, { maxLength: 30 }), (rows) => {
        const cells = rows.map(([mark, n]): [string, string] => [
          mark,
          `2026-03-${String(n).padStart(2, '0')}`,
        ]);
        const { days, twice } = of(...cells);
        for (const [mark, plain] of [
          ['Hale', 'hale'],
          ['brindle', 'brindle'],
          ['ha-le', 'ha le'],
        ] as const) {
          const all = cells.filter(([m]) => m.toLowerCase() === mark.toLowerCase()).map(([, d]) => d);
          expect(days.get(plain)).toBe(all.toSorted().at(-1));
        }
        expect(of(...cells.toReversed()).days).toEqual(days);
        expect(twice).toBeLessThanOrEqual(Math.max(0, rows.length - days.size));
      }),
    );
  });
});
