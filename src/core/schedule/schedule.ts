import { DateTime, IANAZone } from 'luxon';
import { z } from 'zod';

/** When something is done by itself. */
export const Schedule = z
  .strictObject({
    every: z.enum(['day', 'week', 'month', 'quarter']),
    /** ISO weekday, 1 Monday to 7 Sunday; for `week`. */
    weekday: z.int().min(1).max(7).default(1),
    /** For `month` and the first month of a `quarter`; a month with fewer days takes its last. */
    day: z.int().min(1, 'From the 1st').max(31, 'To the 31st').default(1),
    /** Wall time in the zone, `HH:MM`. */
    at: z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'A time such as 03:30'),
    zone: z
      .string()
      .max(60)
      .refine((z) => IANAZone.isValidZone(z), 'A time zone such as Europe/Copenhagen'),
  })
  .readonly();
export type Schedule = z.infer<typeof Schedule>;

/**
 * The first time strictly after `after` that the schedule names. A wall time that the clocks skip comes at the moment
 * they jump; one that comes twice counts once, the first time.
 */
export function nextTime(schedule: Schedule, after: Date): Date {
  const { zone } = schedule;
  const from = DateTime.fromJSDate(after, { zone });
  for (
    let day = from.startOf('day'), tries = 0;
    tries < 800;
    day = day.plus({ days: 1 }).startOf('day'), tries++
  ) {
    if (!falls(schedule, day)) continue;
    const time = atWallTime(day, schedule.at);
    if (time.toMillis() > from.toMillis()) return time.toJSDate();
  }
  throw new Error('A schedule without a next time.');
}

function falls({ every, weekday, day }: Schedule, date: DateTime): boolean {
  switch (every) {
    case 'day':
      return true;
    case 'week':
      return date.weekday === weekday;
    case 'month':
      return date.day === Math.min(day, date.daysInMonth ?? 31);
    case 'quarter':
      return date.month % 3 === 1 && date.day === Math.min(day, date.daysInMonth ?? 31);
  }
}

function atWallTime(day: DateTime, at: string): DateTime {
  const [hour = 0, minute = 0] = at.split(':').map(Number);
  const time = day.set({ hour, minute });
  // Luxon moves a skipped time forward by the length of the gap: the jump itself is the start of the hour.
  if (time.hour !== hour || time.minute !== minute) return time.startOf('hour');
  const earlier = time.minus({ hours: 1 });
  return earlier.hour === hour && earlier.minute === minute && earlier.day === time.day ? earlier : time;
}

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;

export function weekdayName(weekday: number): string {
  return WEEKDAYS[weekday - 1] ?? '';
}

export function scheduleWords(s: Schedule): string {
  switch (s.every) {
    case 'day':
      return `every day at ${s.at}`;
    case 'week':
      return `every ${weekdayName(s.weekday)} at ${s.at}`;
    case 'month':
      return `on day ${s.day} of every month at ${s.at}`;
    case 'quarter':
      return `on day ${s.day} of every quarter at ${s.at}`;
  }
}
