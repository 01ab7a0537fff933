import { parse } from 'csv-parse/sync';
import { decode } from './extract/decode.ts';
import { extract } from './extract/extract.ts';

export interface Table {
  readonly headings: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

/** More columns than a table of records has. */
const MOST_COLUMNS = 1000;

function allowColumns(n: number): void {
  if (n > MOST_COLUMNS)
    throw new Error(`It has more than ${MOST_COLUMNS} columns; take those that are not needed out of it.`);
}

/** A CSV table of known records, whatever parts its cells. Throws an Error where it is none. */
export function readTable(bytes: Buffer): Table {
  const { text } = decode(bytes);
  const line = text.slice(0, Math.max(0, text.indexOf('\n')) || text.length);
  allowColumns(Math.max(...[',', ';', '\t'].map((d) => line.split(d, MOST_COLUMNS + 2).length)));
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
  allowColumns(headings.length);
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

/** A list of JSON objects, whose names are the headings. Throws an Error where it is none. */
export function readRecords(text: string): Table {
  let records: unknown;
  try {
    records = JSON.parse(text);
  } catch (error) {
    throw new Error(`It is no sound JSON: ${(error as Error).message}.`);
  }
  const isRecord = (r: unknown): r is Record<string, unknown> =>
    typeof r === 'object' && r !== null && !Array.isArray(r);
  if (!Array.isArray(records) || records.length === 0 || !records.every(isRecord))
    throw new Error('It is no list of objects, such as [{"Rule": "…"}].');
  const headings = [...new Set(records.flatMap((r) => Object.keys(r)))];
  allowColumns(headings.length);
  const cell = (value: unknown): string => {
    if (value === null || value === undefined) return '';
    if (typeof value === 'object')
      return Array.isArray(value) ? value.map(cell).join('; ') : JSON.stringify(value);
    return typeof value === 'boolean' ? (value ? 'yes' : '') : String(value as string | number).trim();
  };
  return { headings, rows: records.map((r) => headings.map((h) => cell(r[h]))) };
}

/** A table in CSV, a list of JSON objects, or the first sheet of a workbook. Throws an Error where it is none. */
export async function readTableOf(name: string, bytes: Buffer): Promise<Table> {
  if (/\.json$/i.test(name) || /^\s*\[\s*\{/.test(bytes.subarray(0, 200).toString('latin1')))
    return readRecords(decode(bytes).text);
  if (bytes.subarray(0, 2).toString('latin1') !== 'PK') return readTable(bytes);
  const { segments, text, problems, kind } = await extract(name, bytes);
  const rows: string[][] = [];
  const sheet = segments.find((s) => s.place.sheet !== undefined)?.place.sheet;
  for (const { place, start, end } of segments) {
    if (sheet === undefined || place.sheet !== sheet || place.row === undefined || !place.cell) continue;
    const column = columnOf(place.cell);
    (rows[place.row - 1] ??= [])[column] = text.slice(start, end).trim();
  }
  const width = rows.reduce((most, r) => Math.max(most, r?.length ?? 0), 0);
  allowColumns(width);
  // Empty rows between are none.
  const whole = Object.values(rows).map((r) => Array.from({ length: width }, (_, i) => r?.[i] ?? ''));
  const [headings, ...rest] = whole.filter((r) => r.some((c) => c !== ''));
  if (!headings || rest.length === 0)
    throw new Error(problems[0]?.words ?? `This is a ${kind} without a table of records.`);
  return { headings, rows: rest };
}

/** `B7` stands in column 1. */
function columnOf(cell: string): number {
  let n = 0;
  for (const c of cell.replace(/[^A-Z]/g, '')) n = n * 26 + c.charCodeAt(0) - 64;
  return n - 1;
}
