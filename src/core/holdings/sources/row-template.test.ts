import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { daysOfRows, lastOfRows, rowsName, type RowPeriod } from './row-template.ts';

describe('the days of a group of rows', () => {
  it.each<readonly [string, RowPeriod, string, string]>([
    ['2019-03', 'month', '2019-03-01', '2019-04-01'],
    ['2019-12', 'month', '2019-12-01', '2020-01-01'],
    ['2024-02', 'month', '2024-02-01', '2024-03-01'],
    ['2024-02-29', 'day', '2024-02-29', '2024-03-01'],
    ['2023', 'year', '2023-01-01', '2024-01-01'],
    ['0099', 'year', '0099-01-01', '0100-01-01'],
  ])('of %s by %s', (period, by, from, to) => expect(daysOfRows(rowsName(period), by)).toEqual({ from, to }));

  it.each<readonly [string, RowPeriod]>([
    ['rows of 2019-13', 'month'],
    ['rows of 2023-02-29', 'day'],
    ['rows of 2023-02', 'day'],
    ['rows of 2023', 'month'],
    ['rows without a day', 'month'],
    ['from key 7', 'month'],
  ])('are none of “%s” by %s', (name, by) => expect(daysOfRows(name, by)).toBeUndefined());

  it('hold a day once, and end with their last', () => {
    const day = fc
      .date({ min: new Date('1900-01-01'), max: new Date('2100-01-01'), noInvalidDate: true })
      .map((d) => d.toISOString().slice(0, 10));
    fc.assert(
      fc.property(day, fc.constantFrom<RowPeriod>('day', 'month', 'year'), (d, by) => {
        const period = d.slice(0, { day: 10, month: 7, year: 4 }[by]);
        const days = daysOfRows(rowsName(period), by);
        if (!days) throw new Error(period);
        expect(days.from <= d && d < days.to).toBe(true);
        expect(days.from.startsWith(period) && lastOfRows(days).startsWith(period)).toBe(true);
        expect(days.to.startsWith(period)).toBe(false);
      }),
    );
  });
});
