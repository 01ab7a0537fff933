import ExcelJS from 'exceljs';
import { Allowance } from './extract/archive.ts';
import { LIMITS } from './extract/extracted.ts';
import { sheetsIn, xlsxParts } from './extract/workbook.ts';

/** A sheet of a workbook as rows of text; an empty row stays one. */
export interface SheetText {
  readonly name: string;
  readonly rows: readonly (readonly string[])[];
}

const MOST_BYTES = 50e6;
const MOST_ROWS = 20_000;
const MOST_COLUMNS = 200;

/** All sheets of a workbook, each cell as it is shown. Throws an Error where it is none, or is larger than is read. */
export async function readSheets(bytes: Buffer): Promise<SheetText[]> {
  if (bytes.length > MOST_BYTES) throw new Error(`It is larger than ${MOST_BYTES / 1e6} MB.`);
  const parts = await xlsxParts(bytes, new Allowance({ ...LIMITS, unpackedBytes: 200e6 }), undefined, true);
  return sheetsIn(parts).map(({ name, part, cells }) => {
    if (!parts.has(part)) throw new Error(`The sheet “${name}” is not in it.`);
    const rows: string[][] = [];
    for (const { row, column, text } of cells().inOrder()) {
      if (row >= MOST_ROWS) throw new Error(`“${name}” has more than ${MOST_ROWS} rows.`);
      if (column >= MOST_COLUMNS) throw new Error(`“${name}” has more than ${MOST_COLUMNS} columns.`);
      while (rows.length <= row) rows.push([]);
      const at = rows[row] as string[];
      while (at.length < column) at.push('');
      at[column] = text;
    }
    return { name, rows };
  });
}

/** What is said beside a cell; a row from 1 and a column from 0, null for all of it. */
export interface SheetMark {
  readonly sheet: string;
  readonly row: number | null;
  readonly column: number | null;
  readonly words: string;
}

const MARK = { type: 'pattern', pattern: 'solid', fgColor: { argb: 'FFF6C9B8' } } as const;

/** Sheets as a workbook, headings in view; cells that are marked in colour, with a note that says why. */
export async function writeSheets(
  sheets: readonly SheetText[],
  marks: readonly SheetMark[] = [],
): Promise<Uint8Array> {
  const book = new ExcelJS.Workbook();
  for (const { name, rows } of sheets) {
    const sheet = book.addWorksheet(name.slice(0, 31), { views: [{ state: 'frozen', ySplit: 1 }] });
    for (const cells of rows) sheet.addRow([...cells]).alignment = { vertical: 'top', wrapText: true };
    sheet.getRow(1).font = { bold: true };
    const width = rows.reduce((most, r) => Math.max(most, r.length), 0);
    for (let i = 0; i < width; i++) {
      const longest = rows.slice(0, 200).reduce((most, r) => Math.max(most, (r[i] ?? '').length), 8);
      sheet.getColumn(i + 1).width = Math.min(60, longest + 2);
    }
  }
  const byCell = new Map<string, { readonly at: SheetMark; readonly words: string[] }>();
  for (const mark of marks) {
    const key = `${mark.sheet}\0${mark.row}\0${mark.column}`;
    const found = byCell.get(key) ?? { at: mark, words: [] };
    found.words.push(mark.words);
    byCell.set(key, found);
  }
  for (const { at, words } of byCell.values()) {
    const cell = book.getWorksheet(at.sheet.slice(0, 31))?.getCell(at.row ?? 1, (at.column ?? 0) + 1);
    if (!cell) continue;
    cell.fill = MARK;
    cell.note = words.join('\n');
  }
  return new Uint8Array(await book.xlsx.writeBuffer());
}
