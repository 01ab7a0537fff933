import type { Day } from '../../../retention/offers.ts';
import { daysBetween } from './clock.ts';
import type { RequestLaw } from './request-law.ts';

/** How a request stands to those that the same person made before. */
export interface Repetition {
  /** Of the same kind in the year before it. */
  readonly inAYear: number;
  /** Days since the one before; `null` for the first. */
  readonly sinceLast: number | null;
  /** The law need not have it answered free of charge, or at all. */
  readonly beyondLaw: boolean;
  readonly words: string;
}

const YEAR = 365;
/** Sooner than this, a law that names no number may look at it as repeated. */
const SOON = 60;

/** @param earlier days on which requests of the same kind came from the same person. */
export function repetition(law: RequestLaw, received: Day, earlier: readonly Day[]): Repetition {
  const before = earlier.filter((d) => d <= received).toSorted();
  const inAYear = before.filter((d) => daysBetween(d, received) < YEAR).length;
  const last = before.at(-1);
  const sinceLast = last === undefined ? null : daysBetween(last, received);
  const free = law.freeInAYear;
  const beyondLaw = free !== null && inAYear >= free;
  return { inAYear, sinceLast, beyondLaw, words: words() };

  function words(): string {
    if (inAYear === 0 || sinceLast === null) return '';
    const nth = `The ${ordinal(inAYear + 1)} of its kind in a year, ${sinceLast} ${sinceLast === 1 ? 'day' : 'days'} after the one before.`;
    if (beyondLaw)
      return `${nth} ${law.name} gives ${free === 1 ? 'one' : String(free)} free of charge (${law.excessiveArticle}).`;
    if (free === null && sinceLast < SOON && law.excessiveArticle !== '')
      return `${nth} ${law.name} names no number: it is refused or charged for only where that is manifestly excessive, which you would have to show (${law.excessiveArticle}).`;
    return nth;
  }
}

function ordinal(n: number): string {
  const words = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth'];
  return words[n - 1] ?? `${n}th`;
}
