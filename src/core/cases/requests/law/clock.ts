import { dayAfter, lastDayOf, type Day } from '../../../retention/offers.ts';
import type { RequestKind } from '../request.ts';
import type { Limit, PauseWhy, RequestLaw } from './request-law.ts';

/** A time in which a clock may stand: from the day on which something was asked to the day on which it came. */
export interface Pause {
  readonly why: PauseWhy;
  readonly from: Day;
  /** `null` as long as it lasts. */
  readonly to: Day | null;
}

/** What a clock is told from. Days are those where the organisation is. */
export interface ClockInput {
  readonly law: RequestLaw;
  readonly kind: RequestKind;
  readonly received: Day;
  readonly pauses: readonly Pause[];
  /** The day on which the person was told that it takes longer; `null` where they were not. */
  readonly extended: Day | null;
  /** The day on which it was answered; `null` while it is open. */
  readonly answered: Day | null;
  readonly today: Day;
  /** Neither a day of rest of the week nor a holiday. */
  readonly isWorkingDay: (day: Day) => boolean;
}

export interface RequestClock {
  /** The last day on which receipt can be confirmed in time; `null` where no law asks for it. */
  readonly confirmBy: Day | null;
  /** The last day on which it can be answered in time, as it stands now. */
  readonly answerBy: Day;
  /** The last day on which the person can be told that it takes longer; `null` where no law lets it. */
  readonly extendBy: Day | null;
  /** What the last day becomes, or became, where they are told in time. */
  readonly extendedTo: Day | null;
  readonly isExtended: boolean;
  /** Days by which pauses moved the end. */
  readonly pausedDays: number;
  readonly isPaused: boolean;
  /** Until the end of `answerBy`; below 0 once it is over. Of one that was answered, how many were left then. */
  readonly daysLeft: number;
  readonly isLate: boolean;
}

/**
 * The clock of a request by its law. The day of receipt is not counted; months end on the day of the same number or the
 * last of the month; what ends on a day off ends on the next working day where the law says so (Regulation (EEC, Euratom)
 * No 1182/71, Art. 3). Days of a pause that the law knows are added, of pauses that begin while the time still runs. An
 * extension that was told too late is none.
 */
export function requestClock(input: ClockInput): RequestClock {
  const { law, kind, received, today, answered } = input;
  const first = law.otherwise?.[kind] ?? law.answer;
  const plain = endOf(first, input);
  const extended = law.extend && law.otherwise?.[kind] === undefined ? law.extend : undefined;
  // Two months more are counted on from the request, not from where the first ended: 31 January, one and two give 30 April.
  const long =
    extended &&
    endOf(
      first.unit === extended.limit.unit
        ? { unit: first.unit, count: first.count + extended.limit.count }
        : extended.limit,
      input,
    );
  const isExtended = long !== undefined && input.extended !== null && input.extended <= plain.day;
  const { day: answerBy, paused } = isExtended ? long : plain;
  const until = answered ?? today;
  return {
    confirmBy: law.confirm ? limitEnd(received, law.confirm.limit, input.isWorkingDay) : null,
    answerBy,
    extendBy: long ? plain.day : null,
    extendedTo: long ? long.day : null,
    isExtended,
    pausedDays: paused,
    isPaused: answered === null && input.pauses.some((p) => p.to === null && law.pauses.includes(p.why)),
    daysLeft: daysBetween(until, answerBy),
    isLate: until > answerBy,
  };
}

function endOf(limit: Limit, { law, received, pauses, today, isWorkingDay }: ClockInput) {
  const moved = (day: Day) => (law.movesToWorkingDay ? workingDayFrom(day, isWorkingDay) : day);
  let end = limitEnd(received, limit, isWorkingDay);
  let paused = 0;
  for (const p of merged(
    pauses.filter((x) => law.pauses.includes(x.why)),
    today,
  )) {
    const from = p.from < received ? received : p.from;
    if (from > moved(end) || p.to <= from) continue;
    const days = daysBetween(from, p.to);
    end = addDays(end, days);
    paused += days;
  }
  return { day: moved(end), paused };
}

/** Pauses in order, without what two of them share; one that lasts, until today. */
function merged(pauses: readonly Pause[], today: Day): readonly { from: Day; to: Day }[] {
  const out: { from: Day; to: Day }[] = [];
  for (const p of pauses.toSorted((a, b) => (a.from < b.from ? -1 : 1))) {
    const to = p.to ?? today;
    const last = out.at(-1);
    if (last && p.from <= last.to) last.to = to > last.to ? to : last.to;
    else out.push({ from: p.from, to });
  }
  return out;
}

/** The last day of a limit that a day begins, before anything moves it. */
export function limitEnd(start: Day, { count, unit }: Limit, isWorkingDay: (day: Day) => boolean): Day {
  if (unit !== 'working days') return lastDayOf(start, { count, unit });
  let day = start;
  for (let left = count; left > 0;) {
    day = dayAfter(day);
    if (isWorkingDay(day)) left--;
  }
  return day;
}

/** A country without a working day for so long has a wrong calendar. */
const LONGEST_REST = 60;

function workingDayFrom(day: Day, isWorkingDay: (day: Day) => boolean): Day {
  let at = day;
  for (let i = 0; i < LONGEST_REST && !isWorkingDay(at); i++) at = dayAfter(at);
  return at;
}

export function daysBetween(from: Day, to: Day): number {
  return Math.round((Date.parse(`${to}T00:00:00Z`) - Date.parse(`${from}T00:00:00Z`)) / 86_400_000);
}

export function addDays(day: Day, count: number): Day {
  return count === 0 ? day : lastDayOf(day, { count, unit: 'days' });
}

/** Whether a day of the week is one of work where nothing else is said. */
export function isWeekday(day: Day): boolean {
  const weekday = new Date(`${day}T00:00:00Z`).getUTCDay();
  return weekday !== 0 && weekday !== 6;
}
