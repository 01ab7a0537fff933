import type { Segment } from '../../../core/text/segment.ts';
import { allowLength, type Extracted, type Limits } from './extracted.ts';
import { looksLikeHeadings } from './headings.ts';

/** The text stays as it is; every cell knows its column. `undefined` where it is no table. */
export function extractCsv(text: string, limits: Limits): Extracted | undefined {
  const delimiter = delimiterOf(text);
  if (!delimiter) return undefined;
  allowLength(text.length, limits);
  const { segments } = new CsvCutter(delimiter).next(text, true);
  return { text, segments, problems: [], kind: 'CSV' };
}

/** Whether a text without a telling name is a table all the same: headings, and as many cells in each line. */
export function isTable(text: string): boolean {
  const delimiter = delimiterOf(text);
  if (delimiter !== '\t' && delimiter !== ';') return false;
  const lines = text.slice(0, 20_000).split('\n', 5);
  const names = (lines[0] ?? '').split(delimiter);
  // In a sentence, a blank stands behind the sign.
  return (
    lines.length > 3 && names.length > 2 && names.every((n) => !/^ /.test(n)) && looksLikeHeadings(names)
  );
}

/** Whole records of a longer text, offsets as in their own. */
export interface Piece {
  readonly text: string;
  readonly segments: readonly Segment[];
}

/** Takes a text piece by piece and gives its records back whole; what is begun waits for the next piece. */
export interface Cutter {
  next(text: string, isLast: boolean): Piece;
}

/** Rows of a single cell above the headings, at most. */
const MOST_ABOVE = 10;
/** A row longer than this is taken as it is. */
const LONGEST_ROW = 32e6;

export class CsvCutter implements Cutter {
  #rest = '';
  /** Empty where the first row of several cells is none. */
  #headings: readonly string[] | undefined;
  #row = 0;
  readonly #columns: string[] = [];

  constructor(readonly delimiter: string) {}

  next(more: string, isLast: boolean): Piece {
    const text = this.#rest + more;
    const segments: Segment[] = [];
    let end = 0;
    for (const row of rowsOf(text, this.delimiter, isLast || text.length > LONGEST_ROW)) {
      // A title may stand above.
      const isHead = !this.#headings && (row.cells.length > 1 || this.#row >= MOST_ABOVE);
      if (isHead) {
        const names = row.cells.map((c) => text.slice(c.start, c.end));
        this.#headings = looksLikeHeadings(names) ? names.map((n) => n.trim()) : [];
      }
      for (const [column, { start, end: to }] of row.cells.entries()) {
        if (start === to) continue;
        const place = { row: this.#row + 1, cell: `${this.#columnName(column)}${this.#row + 1}` };
        const heading = isHead ? undefined : this.#headings?.[column];
        segments.push(
          heading
            ? { start, end: to, place, heading, record: this.#row }
            : { start, end: to, place, record: this.#row },
        );
      }
      this.#row++;
      end = row.end;
    }
    this.#rest = text.slice(end);
    return { text: text.slice(0, end), segments };
  }

  #columnName(column: number): string {
    return (this.#columns[column] ??= columnName(column));
  }
}

interface Span {
  readonly start: number;
  readonly end: number;
}

/** Cells row by row, RFC 4180, with where the row ends; quotes stay outside a cell. A row without an end counts where it `isLast`. */
function* rowsOf(
  text: string,
  delimiter: string,
  isLast: boolean,
): Generator<{ readonly cells: readonly Span[]; readonly end: number }> {
  const sign = delimiter.charCodeAt(0);
  const { length } = text;
  let i = 0;
  const skip = () => {
    for (; i < length; i++) {
      const unit = text.charCodeAt(i);
      if (unit === sign || unit === 10) return;
    }
  };
  while (i < length) {
    const cells: Span[] = [];
    for (;;) {
      if (text.charCodeAt(i) === 34) {
        const start = ++i;
        let end = text.indexOf('"', i);
        while (end >= 0 && text.charCodeAt(end + 1) === 34) end = text.indexOf('"', end + 2);
        if (end < 0) {
          if (!isLast) return;
          end = length;
        }
        cells.push({ start, end });
        i = end + 1;
        skip();
      } else {
        const start = i;
        skip();
        const isReturn = i > start && text.charCodeAt(i - 1) === 13 && text.charCodeAt(i) !== sign;
        cells.push({ start, end: isReturn ? i - 1 : i });
      }
      if (text.charCodeAt(i) !== sign) break;
      i++;
    }
    if (i >= length && !isLast) return;
    i = Math.min(length, i + 1);
    yield { cells, end: i };
  }
}

const HEAD = 20_000;
const ROWS_LOOKED_AT = 12;

/** The sign that parts the first rows into as many cells each. */
export function delimiterOf(text: string): string | undefined {
  const head = text.slice(0, HEAD);
  let best: { readonly sign: string; readonly cells: number } | undefined;
  for (const sign of ['\t', ';', ',', '|']) {
    const counts: number[] = [];
    let above = 0;
    for (const { cells } of rowsOf(head, sign, text.length <= HEAD)) {
      const isEmpty = cells.length === 1 && head.slice(cells[0]?.start, cells[0]?.end).trim() === '';
      const isAbove = cells.length === 1 && counts.length === 0 && ++above <= MOST_ABOVE;
      if (!isEmpty && !isAbove) counts.push(cells.length);
      if (counts.length === ROWS_LOOKED_AT) break;
    }
    const cells = counts[0] ?? 1;
    const steady = counts.filter((c) => c === cells).length >= counts.length * 0.8;
    // A sentence or two with such a sign in them are no table.
    if (above > 0 && counts.length < 2) continue;
    if (cells > 1 && steady && cells > (best?.cells ?? 1)) best = { sign, cells };
  }
  return best?.sign;
}

/** As a spreadsheet names a column; from 0. */
function columnName(column: number): string {
  let name = '';
  for (let c = column + 1; c > 0; c = Math.floor((c - 1) / 26))
    name = String.fromCharCode(65 + ((c - 1) % 26)) + name;
  return name;
}

/** As a spreadsheet names a cell; both from 0. */
export const cellName = (column: number, row: number): string => `${columnName(column)}${row + 1}`;
