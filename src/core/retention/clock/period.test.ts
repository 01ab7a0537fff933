import fc from 'fast-check';
import { DateTime } from 'luxon';
import { describe, expect, it } from 'vitest';
import { LAST_DAY, dayAfter, dayEnd, dayIn, lastDayOf, type Period, yearEnd } from './period.ts';

describe('the last day of a period', () => {
  it.each<readonly [string, number, Period['unit'], string]>([
    ['2026-11-29', 1, 'days', '2026-11-30'],
    ['2026-12-31', 1, 'days', '2027-01-01'],
    ['2024-02-28', 1, 'days', '2024-02-29'],
    ['2026-01-31', 1, 'months', '2026-02-28'],
    ['2024-01-31', 1, 'months', '2024-02-29'],
    ['2026-03-31', 1, 'months', '2026-04-30'],
    ['2026-10-31', 4, 'months', '2027-02-28'],
    ['2026-12-15', 1, 'months', '2027-01-15'],
    ['2024-02-29', 1, 'years', '2025-02-28'],
    ['2024-02-29', 4, 'years', '2028-02-29'],
    ['1896-02-29', 4, 'years', '1900-02-28'],
    ['1996-02-29', 4, 'years', '2000-02-29'],
    ['2026-11-29', 10, 'years', '2036-11-29'],
    // The clocks change in these nights; days do not.
    ['2026-03-28', 1, 'days', '2026-03-29'],
    ['2026-10-24', 2, 'days', '2026-10-26'],
    ['9990-01-01', 999, 'years', LAST_DAY],
  ])('that begins on %s, of %d %s, is %s', (start, count, unit, wanted) => {
    expect(lastDayOf(start, { count, unit })).toBe(wanted);
  });

  it('is that of another calendar library, for any day', () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date('1900-01-01'), max: new Date('2400-12-31'), noInvalidDate: true }),
        fc.integer({ min: 1, max: 999 }),
        fc.constantFrom('days', 'months', 'years'),
        (at, count, unit) => {
          const start = at.toISOString().slice(0, 10);
          const theirs = DateTime.fromISO(start, { zone: 'utc' })
            .plus({ [unit]: count })
            .toISODate();
          expect(lastDayOf(start, { count, unit })).toBe(theirs);
        },
      ),
    );
  });
});

describe('a day', () => {
  it.each([
    ['2026-02-28', '2026-03-01'],
    ['2028-02-28', '2028-02-29'],
    ['2026-12-31', '2027-01-01'],
    [LAST_DAY, LAST_DAY],
  ])('after %s is %s', (day, wanted) => expect(dayAfter(day)).toBe(wanted));

  it.each([
    ['2026-11-29T23:30:00Z', 'Europe/Copenhagen', '2026-11-30'],
    ['2026-11-29T22:30:00Z', 'Europe/Copenhagen', '2026-11-29'],
    // An hour more in summer.
    ['2026-06-29T22:30:00Z', 'Europe/Copenhagen', '2026-06-30'],
    ['2026-03-29T00:59:59Z', 'Europe/London', '2026-03-29'],
    ['2026-01-01T04:59:59Z', 'America/New_York', '2025-12-31'],
    ['2026-01-01T00:00:00+13:00', 'Pacific/Auckland', '2026-01-01'],
    ['2026-11-29', 'Pacific/Auckland', '2026-11-29'],
  ])('of %s in %s is %s', (instant, zone, wanted) => expect(dayIn(instant, zone)).toBe(wanted));

  it('is none in a zone or at a moment that there is not', () => {
    expect(() => dayIn('2026-11-29T00:00:00Z', 'Europe/Nowhere')).toThrow(RangeError);
    expect(() => dayIn('yesterday', 'Europe/London')).toThrow(RangeError);
  });

  it('lies in a year that ends', () => expect(yearEnd('2024-02-29')).toBe('2024-12-31'));

  it.each([
    ['2026-11-30', 'Europe/Copenhagen', '2026-11-30T22:59:59.000Z'],
    ['2026-07-30', 'Europe/Copenhagen', '2026-07-30T21:59:59.000Z'],
    // The clock changes that night.
    ['2026-10-25', 'Europe/Copenhagen', '2026-10-25T22:59:59.000Z'],
    ['2026-03-29', 'Europe/Copenhagen', '2026-03-29T21:59:59.000Z'],
    ['2026-11-30', 'Pacific/Kiritimati', '2026-11-30T09:59:59.000Z'],
  ])('ends, %s in %s, with %s', (day, zone, wanted) => {
    const end = dayEnd(day, zone);
    expect(end).toBe(wanted);
    expect(dayIn(end, zone)).toBe(day);
    expect(dayIn(new Date(Date.parse(end) + 1000).toISOString(), zone)).toBe(dayAfter(day));
  });

  it('has no end where there is no such day or zone', () => {
    expect(() => dayEnd('2026-02-30', 'UTC')).toThrow(RangeError);
    expect(() => dayEnd('2026-02-01', 'Europe/Nowhere')).toThrow(RangeError);
  });
});
