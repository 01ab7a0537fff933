import { COVER_BLOCK, coveredPieces, coveredSlice } from './covered-text.ts';
import type { Reading } from './reading.ts';

/** Rows of a reading as the person gets them; no columns where it holds no table. */
export interface ShownTable {
  readonly columns: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

/** Its tables, put together: a column for each heading, in the order in which they come. */
export function shownTable({ text, segments, covers }: Reading): ShownTable {
  const columns: string[] = [];
  const rows = new Map<number, Map<string, string>>();
  for (const s of segments) {
    if (s.record === undefined || s.heading === undefined) continue;
    if (!columns.includes(s.heading)) columns.push(s.heading);
    const row = rows.get(s.record) ?? new Map<string, string>();
    rows.set(s.record, row);
    const cell = coveredSlice(text, covers, s.start, s.end);
    const before = row.get(s.heading);
    row.set(s.heading, before === undefined ? cell : `${before} ${cell}`);
  }
  return { columns, rows: [...rows.values()].map((r) => columns.map((c) => r.get(c) ?? '')) };
}

/** All of it as the person gets it. */
export function shownText({ text, covers }: Pick<Reading, 'text' | 'covers'>, block = COVER_BLOCK): string {
  return coveredPieces(text, covers)
    .map((p) => ('cover' in p ? block : p.text))
    .join('')
    .replace(/\n{3,}/g, '\n\n')
    .trim();
}
