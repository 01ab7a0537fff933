import { DateTime } from 'luxon';
import type { Clause, Span } from './lens.ts';

/** A day in ISO 8601 so long before another; of 31 March, a month before is the last of February. */
export function dayBefore(day: string, { count, unit }: Span): string {
  return DateTime.fromISO(day, { zone: 'utc' })
    .minus({ [unit]: count })
    .toISODate() as string;
}

/** Days from `from` up to, without, `to`. */
export interface DayRange {
  readonly from?: string;
  readonly to?: string;
}

type DayClause = Extract<Clause, { is: 'since' | 'before' | 'within' | 'longer ago than' }>;

/** The days that meet a clause when it is asked on `today`. */
export function daysOf(clause: DayClause, today: string): DayRange {
  switch (clause.is) {
    case 'since':
      return { from: clause.day };
    case 'before':
      return { to: clause.day };
    case 'within':
      return { from: dayBefore(today, clause.span) };
    case 'longer ago than':
      return { to: dayBefore(today, clause.span) };
  }
}

export function isDayClause(clause: Clause): clause is DayClause {
  return (
    clause.is === 'since' ||
    clause.is === 'before' ||
    clause.is === 'within' ||
    clause.is === 'longer ago than'
  );
}
