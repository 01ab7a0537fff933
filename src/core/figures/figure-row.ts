import type { FigureWords, Part } from './figure.ts';

/** One of what a figure counts, or what several of them lie in. */
export interface FigureRow {
  /** The same for the same thing on every day. */
  readonly key: string;
  readonly name: string;
  /** What it adds to the figure. */
  readonly n: number;
  /** What that is out of. */
  readonly of?: number;
  /** Where it can be looked at; empty where nowhere. */
  readonly link: string;
  readonly parts: Readonly<Partial<Record<Part, string>>>;
}

/** So many rows of a figure are kept a day; what is beyond is one row more. */
export const MOST_ROWS = 5000;
export const REST_KEY = '…';

/** The largest rows, and what the rest adds in one. */
export function fewRows(rows: readonly FigureRow[], most = MOST_ROWS): readonly FigureRow[] {
  if (rows.length <= most) return rows;
  const sorted = rows.toSorted((a, b) => b.n - a.n || (a.key < b.key ? -1 : 1));
  const rest = sorted.slice(most);
  return [
    ...sorted.slice(0, most),
    {
      key: REST_KEY,
      name: `${rest.length} more`,
      n: rest.reduce((sum, r) => sum + r.n, 0),
      ...(rest.some((r) => r.of !== undefined) ? { of: rest.reduce((sum, r) => sum + (r.of ?? 0), 0) } : {}),
      link: '',
      parts: {},
    },
  ];
}

/** What is to be written so that what is kept says the rows of a day, too. */
export interface RowChanges {
  /** Keys of rows that are no more, or say something else now. */
  readonly over: readonly string[];
  readonly begun: readonly FigureRow[];
}

/** From the rows that stood last to those that stand now; keys are met once in each. */
export function rowChanges(before: readonly FigureRow[], now: readonly FigureRow[]): RowChanges {
  const stood = new Map(before.map((r) => [r.key, r]));
  const stands = new Map(now.map((r) => [r.key, r]));
  return {
    over: before.filter((r) => !isSame(r, stands.get(r.key))).map((r) => r.key),
    begun: [...stands.values()].filter((r) => !isSame(r, stood.get(r.key))),
  };
}

function isSame(a: FigureRow, b: FigureRow | undefined): boolean {
  return b !== undefined && fingerprint(a) === fingerprint(b);
}

function fingerprint({ name, n, of, link, parts }: FigureRow): string {
  return JSON.stringify([name, n, of ?? null, link, Object.entries(parts).toSorted()]);
}

/** The figure that rows make; `null` for a share or a middle of nothing. */
export function valueOfRows(
  { from = 'sum' }: Pick<FigureWords, 'from'>,
  rows: readonly FigureRow[],
): number | null {
  const sum = rows.reduce((all, r) => all + r.n, 0);
  switch (from) {
    case 'sum':
      return sum;
    case 'share': {
      const of = rows.reduce((all, r) => all + (r.of ?? 0), 0);
      return of === 0 ? null : sum / of;
    }
    case 'middle':
      return middle(rows.map((r) => r.n));
  }
}

/** The smallest value that at least half of them do not exceed. */
function middle(values: readonly number[]): number | null {
  return values.toSorted((a, b) => a - b)[Math.ceil(values.length / 2) - 1] ?? null;
}

export interface PartValue {
  /** Empty for rows that have no such part. */
  readonly part: string;
  readonly value: number | null;
  readonly of?: number;
  readonly rows: number;
}

/** The figure of each part of its rows, the largest first. */
export function byPart(
  words: Pick<FigureWords, 'from'>,
  rows: readonly FigureRow[],
  part: Part,
): readonly PartValue[] {
  const parts = new Map<string, FigureRow[]>();
  for (const row of rows) {
    const name = row.parts[part] ?? '';
    const kept = parts.get(name);
    if (kept) kept.push(row);
    else parts.set(name, [row]);
  }
  return [...parts]
    .map(([name, its]) => ({
      part: name,
      value: valueOfRows(words, its),
      ...(its.some((r) => r.of !== undefined) ? { of: its.reduce((sum, r) => sum + (r.of ?? 0), 0) } : {}),
      rows: its.length,
    }))
    .toSorted((a, b) => (b.value ?? -1) - (a.value ?? -1) || (a.part < b.part ? -1 : 1));
}
