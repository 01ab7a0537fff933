import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { nextTime, scheduleWords } from '../../schedule/schedule.ts';
import { Addresses, RANGE_NAMES, rangeDays, Report } from './report.ts';

describe('the days of a range', () => {
  test.each([
    ['2026-12-01', 'all', undefined, undefined],
    ['2026-12-01', 'last 7 days', '2026-11-25', '2026-12-01'],
    ['2026-03-15', 'last month', '2026-02-01', '2026-02-28'],
    ['2028-03-31', 'last month', '2028-02-01', '2028-02-29'],
    ['2026-01-01', 'last month', '2025-12-01', '2025-12-31'],
    ['2026-12-01', 'last quarter', '2026-07-01', '2026-09-30'],
    ['2026-02-10', 'last quarter', '2025-10-01', '2025-12-31'],
    ['2026-12-31', 'last year', '2025-01-01', '2025-12-31'],
  ] as const)('on %s, %s: %s to %s', (day, range, from, to) =>
    expect(rangeDays(range, day)).toEqual(from === undefined ? {} : { from, to }),
  );

  it('begin before they end, and never lie ahead', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...RANGE_NAMES.filter((r) => r !== 'all')),
        fc.date({ min: new Date('2000-01-01'), max: new Date('2100-01-01'), noInvalidDate: true }),
        (range, date) => {
          const day = date.toISOString().slice(0, 10);
          const { from = '', to = '' } = rangeDays(range, day);
          expect(from < to).toBe(true);
          expect(to <= day).toBe(true);
        },
      ),
    );
  });
});

describe('every quarter', () => {
  const schedule = { every: 'quarter', weekday: 1, day: 31, at: '07:00', zone: 'Europe/Copenhagen' } as const;
  it('falls on its day of the first month, or on the last one that month has', () => {
    expect(nextTime(schedule, new Date('2026-12-01T00:00:00Z')).toISOString()).toBe(
      '2027-01-31T06:00:00.000Z',
    );
    expect(nextTime(schedule, new Date('2027-01-31T06:00:00Z')).toISOString()).toBe(
      '2027-04-30T05:00:00.000Z',
    );
    expect(scheduleWords(schedule)).toBe('on day 31 of every quarter at 07:00');
  });
});

it('refuses what nobody could be sent, and names it', () => {
  const base = { name: 'A', what: 'board:1', format: 'pdf' };
  expect(Report.parse(base)).toMatchObject({ range: 'all', schedule: null, keepDays: 90 });
  const refused = Report.safeParse({ ...base, keepDays: 0, format: 'exe' });
  expect(refused.error?.issues.map((i) => i.path.join('.'))).toEqual(['format', 'keepDays']);
  expect(Addresses.safeParse(['a@b.example', 'x']).error?.issues[0]?.path).toEqual([1]);
});
