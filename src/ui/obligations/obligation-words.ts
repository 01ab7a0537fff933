import { readinessOf, wholePoints, type Points } from '../../core/obligations/readiness/readiness.ts';
import { numberWords } from '../desk/words.ts';

/** Whole points, rounded to the nearest; what rounds to nothing and is something says so. */
export function pointsWords(parts: number): string {
  const points = wholePoints(parts);
  return points > 0 && points < 0.5 ? 'under 1' : numberWords(Math.round(points));
}

/** Rounded down: nothing is ready before it is. */
export function readyWords(points: Points): string {
  const readiness = readinessOf(points);
  return readiness === null ? '–' : String(Math.floor(readiness));
}

const HOURS_A_DAY = 8;
const DAYS_A_WEEK = 5;

/** “2 hours”, “3 days”, “2 weeks”. */
export function effortWords(hours: number): string {
  const say = (n: number, one: string) => `${n} ${one}${n === 1 ? '' : 's'}`;
  if (hours < HOURS_A_DAY) return say(hours, 'hour');
  const days = Math.round(hours / HOURS_A_DAY);
  return days < DAYS_A_WEEK ? say(days, 'day') : say(Math.round(days / DAYS_A_WEEK), 'week');
}
