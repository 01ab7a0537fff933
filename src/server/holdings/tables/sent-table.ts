import ExcelJS from 'exceljs';
import { z } from 'zod';
import {
  guessColumns,
  type CellFault,
  type TableColumns,
  type TableFields,
} from '../../../core/holdings/tables/table-fields.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { dropUpload, readUpload } from '../../files/uploads.ts';
import type { Table } from '../../files/table-file.ts';
import type { SheetText } from '../../files/workbook-sheets.ts';
import { plainCell, safeCell } from '../../http/csv.ts';
import { detectorPool } from '../detection/threads/shared-threads.ts';

/** The heading that stands for each field. */
export type Headings<F extends string> = Partial<Readonly<Record<F, string>>>;

export function headingsOf<F extends string>(fields: TableFields<F>): z.ZodType<Headings<F>, Headings<F>> {
  return z.partialRecord(
    z.enum(Object.keys(fields) as [F, ...F[]]),
    z.string().max(500),
  ) as unknown as z.ZodType<Headings<F>, Headings<F>>;
}

/** What a person needs to see of a table to say what its columns are. */
export interface TableView<F extends string> {
  readonly rows: number;
  readonly headings: readonly string[];
  /** The first rows. */
  readonly examples: readonly (readonly string[])[];
  readonly matched: Headings<F>;
}

/** The rows of a table that was sent. Throws a RefusedError for what is none, or has more than `most`. */
export async function sentTable(ctx: Context, account: number, upload: number, most: number): Promise<Table> {
  const { name, bytes } = await readUpload(ctx, account, upload);
  let table: Table;
  try {
    table = await detectorPool().run({ what: 'rows', bytes, file: name }, 120_000);
  } catch (error) {
    await dropUpload(ctx.store, upload);
    throw new RefusedError(`“${name}” is no table that can be read.`, [
      { field: 'upload', message: (error as Error).message },
    ]);
  }
  if (table.rows.length > most)
    throw new RefusedError(`“${name}” has more than ${most} rows.`, [
      { field: 'upload', message: 'Send it in parts.' },
    ]);
  return { ...table, rows: table.rows.map((cells) => cells.map(plainCell)) };
}

/** All sheets of a workbook, read beside other work. Throws an Error where it is none. */
export function workbookSheets(bytes: Buffer): Promise<readonly SheetText[]> {
  return detectorPool().run({ what: 'sheets', bytes }, 120_000);
}

/** Looks at a table; columns are matched as they were the last time (`before`), else by their headings. */
export function viewTable<F extends string>(
  { headings, rows }: Table,
  fields: TableFields<F>,
  before: Readonly<Record<string, string>> | null = null,
): TableView<F> {
  const kept = Object.entries(before ?? {}).filter(([, h]) => headings.includes(h));
  const guessed = Object.entries<number>(guessColumns(fields, headings) as Record<string, number>);
  return {
    rows: rows.length,
    headings,
    examples: rows.slice(0, 3),
    matched: Object.fromEntries(
      kept.length > 0 ? kept : guessed.map(([field, at]) => [field, headings[at] ?? '']),
    ) as Headings<F>,
  };
}

/** Throws a RefusedError for a heading that is not there, stands for two fields, or is needed and missing. */
export function columnsOf<F extends string>(
  table: Table,
  fields: TableFields<F>,
  headings: Headings<F>,
): TableColumns<F> {
  const columns: Partial<Record<F, number>> = {};
  const errors: { field: string; message: string }[] = [];
  for (const field of Object.keys(fields) as F[]) {
    const heading = headings[field];
    const { needed, words } = fields[field];
    if (heading === undefined) {
      if (needed) errors.push({ field: `headings.${field}`, message: `Say which column is “${words}”.` });
      continue;
    }
    const at = table.headings.indexOf(heading);
    if (at < 0) errors.push({ field: `headings.${field}`, message: `There is no column “${heading}”.` });
    else if (Object.values(columns).includes(at))
      errors.push({ field: `headings.${field}`, message: `“${heading}” stands for something else already.` });
    else columns[field] = at;
  }
  if (errors.length > 0) throw new RefusedError('The columns are not matched yet.', errors);
  return columns;
}

/** Throws a RefusedError that names each cell that cannot be taken, where there is any. */
export function refuseFaults({ headings }: Table, faults: readonly CellFault[]): void {
  if (faults.length === 0) return;
  const cell = ({ row, column }: CellFault) =>
    column === null ? `row ${row + 2}` : `row ${row + 2}, ${headings[column] || `column ${column + 1}`}`;
  throw new RefusedError(
    faults.length === 1
      ? 'One cell cannot be taken. Nothing was taken.'
      : `${faults.length} cells cannot be taken. Nothing was taken.`,
    faults.slice(0, 50).map((f) => ({ field: cell(f), message: f.words })),
  );
}

/** A copy of a table with every fault marked: its cell in colour, and what is wrong beside it. */
export function markedCopy(table: Table, faults: readonly CellFault[]): Promise<Uint8Array> {
  const width = table.headings.length;
  return workbook('Marked', [...table.headings, 'What is wrong'], table.rows, (sheet) => {
    for (const { row, column, words } of faults) {
      const at = sheet.getRow(row + 2);
      const beside = at.getCell(width + 1);
      beside.value = beside.text ? `${beside.text} ${words}` : words;
      at.getCell((column ?? width) + 1).fill = {
        type: 'pattern',
        pattern: 'solid',
        fgColor: { argb: 'FFF6C9B8' },
      };
    }
    sheet.getColumn(width + 1).width = 70;
  });
}

/** Rows as a workbook of one sheet, with its headings kept in view; no cell is taken for a formula. */
export async function workbook(
  name: string,
  headings: readonly string[],
  rows: readonly (readonly string[])[],
  more: (sheet: ExcelJS.Worksheet) => void = () => {},
): Promise<Uint8Array> {
  const book = new ExcelJS.Workbook();
  const sheet = book.addWorksheet(name, { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.addRow([...headings]).font = { bold: true };
  for (const cells of rows) sheet.addRow(cells.map(safeCell)).alignment = { vertical: 'top', wrapText: true };
  for (let i = 1; i <= headings.length; i++) sheet.getColumn(i).width = 24;
  more(sheet);
  return new Uint8Array(await book.xlsx.writeBuffer());
}

export const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';
