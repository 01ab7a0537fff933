import { z } from 'zod';

const Name = z.string().trim().min(1).max(200);

/**
 * How rows of a table are told apart by their day, so that old ones can be let go without the others. Without one, a table
 * is read in groups by its key, and nothing of it is let go.
 */
export const RowTemplate = z.strictObject({
  /** The table, with its schema before it where there are several: `public/booking`. */
  table: Name,
  /** A column of days or moments; when a row counts as made and changed. */
  day: Name,
  /** Rows of the same period are one item. */
  by: z.enum(['day', 'month', 'year']),
  /** Columns that are emptied where the rows are made anonymous. */
  blank: z.array(Name).max(200),
});
export type RowTemplate = z.infer<typeof RowTemplate>;
export type RowPeriod = RowTemplate['by'];

export const ROW_PERIODS: Readonly<Record<RowPeriod, string>> = { day: 'day', month: 'month', year: 'year' };

const PREFIX = 'rows of ';
export const WITHOUT_DAY = 'rows without a day';

/** The name of an item: `rows of 2019-03`. */
export function rowsName(period: string): string {
  return PREFIX + period;
}

/** Whether an item was told apart by its day, by whatever period. */
export function isDatedName(name: string): boolean {
  return name === WITHOUT_DAY || Object.keys(SHAPES).some((by) => daysOfRows(name, by as RowPeriod));
}

/** Days of a period, the last not included. */
export interface RowDays {
  readonly from: string;
  readonly to: string;
}

const SHAPES: Readonly<Record<RowPeriod, RegExp>> = {
  day: /^\d{4}-\d{2}-\d{2}$/,
  month: /^\d{4}-\d{2}$/,
  year: /^\d{4}$/,
};

/** The days that a name tells of; `undefined` for one that no period of this length has. */
export function daysOfRows(name: string, by: RowPeriod): RowDays | undefined {
  if (!name.startsWith(PREFIX)) return undefined;
  const period = name.slice(PREFIX.length);
  if (!SHAPES[by].test(period)) return undefined;
  const [year = 0, month = 1, day = 1] = period.split('-').map(Number);
  const from = new Date(`${String(year).padStart(4, '0')}-${two(month)}-${two(day)}T00:00:00Z`);
  if (Number.isNaN(from.getTime())) return undefined;
  const to = new Date(from);
  if (by === 'year') to.setUTCFullYear(to.getUTCFullYear() + 1);
  else if (by === 'month') to.setUTCMonth(to.getUTCMonth() + 1);
  else to.setUTCDate(to.getUTCDate() + 1);
  const text = (at: Date) => at.toISOString().slice(0, 10);
  return text(from).startsWith(period) ? { from: text(from), to: text(to) } : undefined;
}

const two = (n: number) => String(n).padStart(2, '0');

/** The last day of a period. */
export function lastOfRows({ to }: RowDays): string {
  return new Date(Date.parse(`${to}T00:00:00Z`) - 86_400_000).toISOString().slice(0, 10);
}
