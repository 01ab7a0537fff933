import fc from 'fast-check';
import { expect, it, test } from 'vitest';
import { nextTime, Schedule, scheduleWords } from './schedule.ts';
import { runs } from '../../../tests/property-runs.ts';

const schedule = (over: Partial<Schedule>) =>
  Schedule.parse({ every: 'day', at: '03:00', zone: 'Europe/Copenhagen', ...over });

test.each([
  [{}, '2026-11-23T01:00:00Z', '2026-11-23T02:00:00.000Z'],
  [{}, '2026-11-23T02:00:00Z', '2026-11-24T02:00:00.000Z'],
  [{ every: 'week', weekday: 1 }, '2026-11-23T09:00:00Z', '2026-11-30T02:00:00.000Z'],
  [{ every: 'week', weekday: 7 }, '2026-11-23T09:00:00Z', '2026-11-29T02:00:00.000Z'],
  [{ every: 'month', day: 31 }, '2026-11-23T09:00:00Z', '2026-11-30T02:00:00.000Z'],
  [{ every: 'month', day: 31 }, '2027-02-01T09:00:00Z', '2027-02-28T02:00:00.000Z'],
  [{ zone: 'America/Los_Angeles' }, '2026-11-23T01:00:00Z', '2026-11-23T11:00:00.000Z'],
  // The clocks go on from 02:00 to 03:00: there is no 02:30, so it comes at the jump.
  [{ at: '02:30' }, '2026-03-28T12:00:00Z', '2026-03-29T01:00:00.000Z'],
  // They go back from 03:00 to 02:00: 02:30 comes twice, and counts once.
  [{ at: '02:30' }, '2026-10-24T12:00:00Z', '2026-10-25T00:30:00.000Z'],
  [{ at: '02:30' }, '2026-10-25T00:30:00Z', '2026-10-26T01:30:00.000Z'],
] as const)('%o after %s: %s', (over, after, next) => {
  expect(nextTime(schedule(over), new Date(after)).toISOString()).toBe(next);
});

it('always comes after, at most once a day, and within its period', () => {
  const any = fc.record({
    every: fc.constantFrom('day', 'week', 'month', 'quarter'),
    weekday: fc.integer({ min: 1, max: 7 }),
    day: fc.integer({ min: 1, max: 31 }),
    at: fc
      .tuple(fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 59 }))
      .map(([h, m]) => `${String(h).padStart(2, '0')}:${String(m).padStart(2, '0')}`),
    zone: fc.constantFrom('Europe/Copenhagen', 'America/New_York', 'Australia/Lord_Howe', 'UTC'),
  });
  const most = { day: 2, week: 8, month: 32, quarter: 93 };
  fc.assert(
    fc.property(
      any,
      fc.date({ min: new Date('2026-01-01'), max: new Date('2028-01-01'), noInvalidDate: true }),
      (given, after) => {
        const s = Schedule.parse(given);
        const next = nextTime(s, after);
        const days = (next.getTime() - after.getTime()) / 86_400_000;
        expect(days).toBeGreaterThan(0);
        expect(days).toBeLessThan(most[s.every]);
        const following = nextTime(s, next);
        expect(following.getTime() - next.getTime()).toBeGreaterThan(22 * 3600_000);
      },
    ),
    runs(200),
  );
});

test.each([
  [{ at: '3:00' }, 'at'],
  [{ at: '24:00' }, 'at'],
  [{ zone: 'Mars/Base' }, 'zone'],
  [{ every: 'year' }, 'every'],
  [{ day: 32 }, 'day'],
])('%o is refused', (over, field) => {
  const read = Schedule.safeParse({ every: 'day', at: '03:00', zone: 'UTC', ...over });
  expect(read.error?.issues[0]?.path).toEqual([field]);
});

it('reads as words', () => {
  expect(
    [schedule({}), schedule({ every: 'week', weekday: 3 }), schedule({ every: 'month', day: 5 })].map(
      scheduleWords,
    ),
  ).toEqual(['every day at 03:00', 'every Wednesday at 03:00', 'on day 5 of every month at 03:00']);
});
