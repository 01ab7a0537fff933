import { parse } from 'csv-parse/sync';
import { decode } from './extract/decode.ts';

export interface Table {
  readonly headings: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

/** A CSV table of known records, whatever parts its cells. Throws an Error where it is none. */
export function readTable(bytes: Buffer): Table {
  const { text } = decode(bytes);
  const line = text.slice(0, Math.max(0, text.indexOf('\n')) || text.length);
  const delimiter = [';', '\t', ',', '|'].reduce(
    (best, d) => (line.split(d).length > line.split(best).length ? d : best),
    ',',
  );
  const rows = parse(text, {
    delimiter,
    bom: true,
    relax_column_count: true,
    skip_empty_lines: true,
    relax_quotes: true,
    trim: true,
  }) as string[][];
  const [headings, ...rest] = rows;
  if (!headings || rest.length === 0) throw new Error('The table has no rows below its headings.');
  return { headings, rows: rest };
}

/** The column that is named so, or has that number from 1. Throws an Error that lists the columns. */
export function columnNamed(table: Table, name: string): number {
  const at = table.headings.findIndex((h) => h.toLowerCase() === name.trim().toLowerCase());
  const number = /^\d+$/.test(name) ? Number(name) - 1 : -1;
  const found = at >= 0 ? at : number;
  if (found < 0 || found >= table.headings.length)
    throw new Error(`There is no column “${name}”. There are: ${table.headings.join(', ')}.`);
  return found;
}
