import fc from 'fast-check';
import { expect, it } from 'vitest';
import { dayNumber } from '../../lens/fact-index.ts';
import { dayIn } from './period.ts';
import { ZoneDays } from './zone-days.ts';

it.each([
  // The clock goes on from 2 to 3 in the night to the 29th, and back in that to the 25th of October.
  ['Europe/Copenhagen', '2026-03-28T22:59:59.999Z', '2026-03-28'],
  ['Europe/Copenhagen', '2026-03-28T23:00:00Z', '2026-03-29'],
  ['Europe/Copenhagen', '2026-03-29T21:59:59Z', '2026-03-29'],
  ['Europe/Copenhagen', '2026-03-29T22:00:00Z', '2026-03-30'],
  ['Europe/Copenhagen', '2026-10-25T22:59:59Z', '2026-10-25'],
  ['Europe/Copenhagen', '2026-10-25T23:00:00Z', '2026-10-26'],
  // A day that there was not: the island went over the date line.
  ['Pacific/Apia', '2011-12-30T09:59:59Z', '2011-12-29'],
  ['Pacific/Apia', '2011-12-30T10:00:00Z', '2011-12-31'],
  ['Asia/Kathmandu', '2026-01-01T18:14:59Z', '2026-01-01'],
  ['Asia/Kathmandu', '2026-01-01T18:15:00Z', '2026-01-02'],
])('in %s, %s is %s', (zone, at, day) =>
  expect(new ZoneDays(zone).dayOf(Date.parse(at))).toBe(dayNumber(day)),
);

it('is the day that the calendar tells, in any zone at any moment', () => {
  const zones = [
    'Europe/Copenhagen',
    'Europe/London',
    'America/New_York',
    'Pacific/Apia',
    'Africa/Casablanca',
    'UTC',
  ];
  const days = new Map(zones.map((z) => [z, new ZoneDays(z)]));
  fc.assert(
    fc.property(
      fc.constantFrom(...zones),
      fc.date({ min: new Date('1970-01-02'), max: new Date('2090-01-01'), noInvalidDate: true }),
      (zone, at) => {
        expect(days.get(zone)?.dayOf(at.getTime())).toBe(dayNumber(dayIn(at.toISOString(), zone)));
      },
    ),
    { numRuns: 600 },
  );
});
