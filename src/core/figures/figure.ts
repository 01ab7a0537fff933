/** What the rows of a figure can be told apart by, as a sentence calls it. */
export const PARTS = {
  site: 'site',
  region: 'region',
  source: 'source',
  system: 'system',
  rule: 'rule',
  law: 'law',
  framework: 'framework',
  kind: 'kind',
} as const;
export type Part = keyof typeof PARTS;
export const PART_NAMES = Object.keys(PARTS) as [Part, ...Part[]];

/** A number that an area can answer for, as a sentence says what it counts. */
export interface FigureWords {
  /** Its area and a name: `websites.leaks`. */
  readonly id: string;
  readonly name: string;
  /** What is counted, and what is not. */
  readonly definition: string;
  /** What one of it is: `tracker`; `%` for a share in [0, 1]. */
  readonly unit: string;
  /** Which way is good. */
  readonly good: 'more' | 'less' | 'neither';
  /** How the number follows from its rows: their sum, the share they are of what they are out of, or their middle. */
  readonly from?: 'sum' | 'share' | 'middle';
  /** Whether a count is told as a share of what it is out of. */
  readonly asShare?: boolean;
  /** It counts what people do by chance, over so many days; any other counts all there is. */
  readonly sampledDays?: number;
  /** What its rows can be told apart by. */
  readonly parts?: readonly Part[];
}

/** `null` where there is nothing to count. */
export interface FigureValue {
  readonly value: number | null;
  /** What it is out of. */
  readonly of?: number;
  /** The 95% interval of a share, where it is one of a sample. */
  readonly low?: number;
  readonly high?: number;
}

/** What a figure was on a day. */
export interface DayValue extends FigureValue {
  /** `2026-11-20` */
  readonly day: string;
}

/** What is told of a figure: a share in [0, 1] where it is one, else the count itself; `null` for nothing. */
export function toldValue(
  { unit, asShare = false }: Pick<FigureWords, 'unit' | 'asShare'>,
  { value, of }: FigureValue,
): { readonly value: number | null; readonly isShare: boolean } {
  if (unit === '%') return { value, isShare: true };
  if (!asShare) return { value, isShare: false };
  return { value: value === null || !of ? null : value / of, isShare: true };
}

/** How a figure is reckoned, in one line. */
export function formulaWords({ unit, from = 'sum', asShare = false }: FigureWords): string {
  switch (from) {
    case 'middle':
      return `The middle of its rows, in ${unit}s`;
    case 'share':
      return 'The sum of its rows, by the sum of what they are out of';
    case 'sum':
      return asShare
        ? 'The number of its rows, by the number of what they are out of'
        : 'The number of its rows';
  }
}
