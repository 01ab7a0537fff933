import { DateTime } from 'luxon';
import { z } from 'zod';

/** A length of time by the calendar. */
export const Period = z.strictObject({
  count: z.int().min(1, 'At least 1.').max(999, 'At most 999.'),
  unit: z.enum(['days', 'months', 'years']),
});
export type Period = z.infer<typeof Period>;

/** A day in ISO 8601, such as 2026-11-29. */
export type Day = string;

/** The last day that a calendar here tells. */
export const LAST_DAY: Day = '9999-12-31';

/**
 * The last day of a period that an event on `start` begins: the day of the event is not counted, and months and years end on
 * the day of the same number, or the last of a month that has none (Regulation (EEC, Euratom) No 1182/71, Art. 3(1) and
 * (2)). 31 January and a month end on 28 or 29 February; 29 February and a year on 28 February.
 */
export function lastDayOf(start: Day, { count, unit }: Period): Day {
  const [year = 0, month = 1, day = 1] = start.split('-').map(Number);
  if (unit === 'days') return dayOf(year, month, day + count);
  const months = year * 12 + (month - 1) + count * (unit === 'years' ? 12 : 1);
  const [inYear, inMonth] = [Math.floor(months / 12), (months % 12) + 1];
  return dayOf(inYear, inMonth, Math.min(day, daysIn(inYear, inMonth)));
}

export function dayAfter(day: Day): Day {
  const [year = 0, month = 1, of = 1] = day.split('-').map(Number);
  return dayOf(year, month, of + 1);
}

/** The last day of the year in which a day lies. */
export function yearEnd(day: Day): Day {
  return `${day.slice(0, 4)}-12-31`;
}

/** The last second of a day where the organisation is; ISO 8601, UTC. Throws a RangeError for a day or zone that there is not. */
export function dayEnd(day: Day, zone: string): string {
  const end = DateTime.fromISO(day, { zone }).endOf('day');
  if (!end.isValid) throw new RangeError(`There is no ${day} in ${zone}.`);
  return end.set({ millisecond: 0 }).toJSDate().toISOString();
}

/** The day on which a moment lies where the organisation is. Throws a RangeError for a zone or a moment that there is not. */
export function dayIn(instant: string, zone: string): Day {
  // A day is one wherever it is told.
  if (/^\d{4}-\d{2}-\d{2}$/.test(instant)) return instant;
  const parts = new Intl.DateTimeFormat('en', {
    timeZone: zone,
    calendar: 'iso8601',
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
  }).formatToParts(new Date(instant));
  const part = (type: string) => parts.find((p) => p.type === type)?.value ?? '';
  return `${part('year').padStart(4, '0')}-${part('month')}-${part('day')}`;
}

function daysIn(year: number, month: number): number {
  return new Date(Date.UTC(2000 + (year % 400), month, 0)).getUTCDate();
}

function dayOf(year: number, month: number, day: number): Day {
  const at = new Date(0);
  at.setUTCFullYear(year, month - 1, day);
  return at.getUTCFullYear() > 9999 ? LAST_DAY : at.toISOString().slice(0, 10);
}
