import { DateTime } from 'luxon';
import type { LookoutContent } from './lookout-content.ts';

/**
 * When somebody is told of what was raised at `at`, by the quiet hours of a lookout: at once, or at their end. Hours that
 * a change of the clock leaves out end when it does; hours that come twice are quiet twice.
 */
export function tellAt({ quiet }: LookoutContent['tell'], at: Date): Date {
  if (!quiet) return at;
  const local = DateTime.fromJSDate(at, { zone: quiet.zone });
  const clock = local.toFormat('HH:mm');
  const overMidnight = quiet.to < quiet.from;
  const isQuiet = overMidnight
    ? clock >= quiet.from || clock < quiet.to
    : clock >= quiet.from && clock < quiet.to;
  if (!isQuiet) return at;
  const [hour = 0, minute = 0] = quiet.to.split(':').map(Number);
  const day = overMidnight && clock >= quiet.from ? local.plus({ days: 1 }) : local;
  const end = day.set({ hour, minute, second: 0, millisecond: 0 });
  // Where the clock goes back, the hour of the end may be over already once.
  return (end > local ? end : local).toJSDate();
}

/** The day (ISO 8601) by which tellings are counted: where its quiet hours are, else by UTC. */
export function tellingDay({ quiet }: LookoutContent['tell'], at: Date): string {
  return DateTime.fromJSDate(at, { zone: quiet?.zone ?? 'utc' }).toFormat('yyyy-MM-dd');
}
