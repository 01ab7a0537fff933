import { z } from 'zod';
import { PART_NAMES } from '../../figures/figure.ts';
import { Schedule } from '../../schedule/schedule.ts';

export const FORMATS = { pdf: 'PDF', xlsx: 'XLSX', csv: 'CSV', json: 'JSON' } as const;
export type Format = keyof typeof FORMATS;
export const FORMAT_NAMES = Object.keys(FORMATS) as [Format, ...Format[]];

/** Which days a report is of, seen from the day on which it is made. */
export const RANGES = {
  all: 'all there is',
  'last 7 days': 'the last 7 days',
  'last 30 days': 'the last 30 days',
  'last 90 days': 'the last 90 days',
  'last month': 'the month before',
  'last quarter': 'the quarter before',
  'last year': 'the year before',
} as const;
export type Range = keyof typeof RANGES;
export const RANGE_NAMES = Object.keys(RANGES) as [Range, ...Range[]];

export const Report = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name').max(120, 'At most 120 characters'),
  /** What it tells of, by its id: `board:1`, `figure:websites.leaks`, `area:websites`, `cases.requests`. */
  what: z.string().min(1, 'Choose what it tells of').max(100),
  /** The line of a lens, where it tells of items. */
  lens: z.string().max(4000).default(''),
  format: z.enum(FORMAT_NAMES),
  range: z.enum(RANGE_NAMES).default('all'),
  /** What a figure is told apart by. */
  by: z.enum(PART_NAMES).nullable().default(null),
  schedule: Schedule.nullable().default(null),
  /** Accounts that are told when it is ready. */
  people: z.array(z.int().positive()).max(50, 'At most 50 people').default([]),
  /** For so many days it can be fetched. */
  keepDays: z.int().min(1, 'A day at least').max(1100, 'Three years at most').default(90),
});
export type Report = z.infer<typeof Report>;

/** People without an account whom it goes to. */
export const Addresses = z.array(z.email('An e-mail address').max(200)).max(20, 'At most 20 addresses');

export interface Days {
  /** The first and the last, in ISO 8601; absent where there is none. */
  readonly from?: string;
  readonly to?: string;
}

/** The days of a range, seen from a day. */
export function rangeDays(range: Range, day: string): Days {
  const at = new Date(`${day}T00:00:00Z`);
  const [year, month] = [at.getUTCFullYear(), at.getUTCMonth()];
  const between = (from: number, to: number): Days => ({ from: iso(from), to: iso(to) });
  switch (range) {
    case 'all':
      return {};
    case 'last 7 days':
    case 'last 30 days':
    case 'last 90 days':
      return between(at.getTime() - (Number(range.split(' ')[1]) - 1) * 86_400_000, at.getTime());
    case 'last month':
      return between(Date.UTC(year, month - 1, 1), Date.UTC(year, month, 0));
    case 'last quarter': {
      const first = month - (month % 3);
      return between(Date.UTC(year, first - 3, 1), Date.UTC(year, first, 0));
    }
    case 'last year':
      return between(Date.UTC(year - 1, 0, 1), Date.UTC(year, 0, 0));
  }
}

function iso(ms: number): string {
  return new Date(ms).toISOString().slice(0, 10);
}

/** Of a PDF no more rows are printed: what is beyond is in the other formats. */
export const MOST_PRINTED = 2000;
