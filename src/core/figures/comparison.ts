import { countsByChance, sharesByChance } from './chance.ts';
import { toldValue, type DayValue, type FigureWords } from './figure.ts';

export const PERIODS = ['week', 'month', 'quarter', 'year'] as const;
export type Period = (typeof PERIODS)[number];

/** Less likely than this by chance, and a change is told as one. */
export const RARE = 0.01;
/** A value that was kept so many days before the day that is asked for stands for it. */
const STANDS_FOR_DAYS = 10;
const DAY_MS = 86_400_000;

/**
 * The last day of the week, month, quarter or year before that of `day`, all ISO 8601 days; weeks end on Sunday.
 */
export function lastDayBefore(day: string, period: Period): string {
  const at = new Date(`${day}T00:00:00Z`);
  const [year, month] = [at.getUTCFullYear(), at.getUTCMonth()];
  switch (period) {
    case 'week':
      return dayOf(at.getTime() - (at.getUTCDay() === 0 ? 7 : at.getUTCDay()) * DAY_MS);
    case 'month':
      return dayOf(Date.UTC(year, month, 0));
    case 'quarter':
      return dayOf(Date.UTC(year, month - (month % 3), 0));
    case 'year':
      return dayOf(Date.UTC(year, 0, 0));
  }
}

function dayOf(ms: number): string {
  return new Date(ms).toISOString().slice(0, 10);
}

/** The value that stood on a day, of values by day, the oldest first; `undefined` where none was kept near it. */
export function valueOn<T extends DayValue>(days: readonly T[], day: string): T | undefined {
  const last = days.findLast((d) => d.day <= day);
  if (!last) return undefined;
  return Date.parse(day) - Date.parse(last.day) <= STANDS_FOR_DAYS * DAY_MS ? last : undefined;
}

/** What became of a figure between two days. */
export interface Comparison {
  readonly before: DayValue;
  /** Of what is told: points of a share are in [-1, 1]. */
  readonly change: number;
  /** `none` where nothing changed, or which way is good is not said. */
  readonly way: 'better' | 'worse' | 'none';
  /** `counted`: all there is was counted on both days, the change is what it is. */
  readonly sure: 'counted' | 'more than chance' | 'within chance';
  /** How often chance alone does so much. */
  readonly chance?: number;
  /** In a sentence, why it is told so. */
  readonly why: string;
}

/** `undefined` where one of both was nothing. */
export function compareDays(words: FigureWords, now: DayValue, before: DayValue): Comparison | undefined {
  const [told, was] = [toldValue(words, now), toldValue(words, before)];
  if (told.value === null || was.value === null) return undefined;
  const change = told.value - was.value;
  const way =
    change === 0 || words.good === 'neither'
      ? 'none'
      : change > 0 === (words.good === 'more')
        ? 'better'
        : 'worse';
  const common = { before, change, way } as const;
  const chance = words.sampledDays === undefined ? undefined : chanceOf(words, now, before);
  if (chance === undefined)
    return {
      ...common,
      sure: 'counted',
      why: 'Everything was counted on both days: the change is what it is.',
    };
  const days = Math.round((Date.parse(now.day) - Date.parse(before.day)) / DAY_MS);
  const shared = Math.max(0, (words.sampledDays ?? 0) - days);
  return {
    ...common,
    sure: chance < RARE ? 'more than chance' : 'within chance',
    chance,
    why: `${oftenWords(chance)} by chance alone, with ${sizeWords(now, before)}.${
      shared > 0 ? ` The two periods share ${shared} days, so what differs between them differs more.` : ''
    }`,
  };
}

/** `undefined` where nothing is known of how much there was. */
function chanceOf(words: FigureWords, now: DayValue, before: DayValue): number | undefined {
  const [a, b] = [now.value ?? 0, before.value ?? 0];
  if (now.of === undefined || before.of === undefined)
    return words.unit === '%' ? undefined : countsByChance(a, b);
  const counted = (value: number, of: number) => ({
    successes: words.unit === '%' ? Math.round(value * of) : value,
    trials: of,
  });
  return sharesByChance(counted(a, now.of), counted(b, before.of));
}

function oftenWords(chance: number): string {
  if (chance >= 0.995) return 'So much or more comes about nearly always';
  if (chance >= 0.095) return `So much or more comes about ${Math.round(chance * 10)} times in 10`;
  if (chance >= 0.0095) return `So much or more comes about ${Math.round(chance * 100)} times in 100`;
  return 'So much or more comes about less than once in 100 times';
}

function sizeWords(now: DayValue, before: DayValue): string {
  const size = ({ value, of }: DayValue) => (of ?? value ?? 0).toLocaleString('en-GB');
  return `${size(now)} now and ${size(before)} then`;
}
