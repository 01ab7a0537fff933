import Holidays from 'date-holidays';
import { isWeekday } from '../../../core/cases/requests/law/clock.ts';

const known = new Map<string, ReadonlySet<string>>();
const calendars = new Map<string, Holidays>();

/** Whether a day is one of work in a country (ISO 3166-1): neither a Saturday or Sunday nor a public holiday. */
export function workingDays(country: string): (day: string) => boolean {
  return (day) => isWeekday(day) && !holidaysOf(country, day.slice(0, 4)).has(day);
}

function holidaysOf(country: string, year: string): ReadonlySet<string> {
  const key = `${country} ${year}`;
  let days = known.get(key);
  if (!days) {
    let calendar = calendars.get(country);
    if (!calendar) calendars.set(country, (calendar = new Holidays(country)));
    // A country that there is no calendar of has none.
    const all = calendar.getHolidays(Number(year)) ?? [];
    days = new Set(all.filter((h) => h.type === 'public').flatMap((h) => daysOf(h)));
    known.set(key, days);
  }
  return days;
}

/** Some last longer than a day. */
function daysOf({
  date,
  start,
  end,
}: {
  readonly date: string;
  readonly start: Date;
  readonly end: Date;
}): string[] {
  const first = date.slice(0, 10);
  const length = Math.max(1, Math.round((end.getTime() - start.getTime()) / 86_400_000));
  return Array.from({ length: Math.min(length, 14) }, (_, i) =>
    new Date(Date.parse(`${first}T00:00:00Z`) + i * 86_400_000).toISOString().slice(0, 10),
  );
}
