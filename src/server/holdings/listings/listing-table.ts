import ExcelJS from 'exceljs';
import { z } from 'zod';
import {
  guessColumns,
  readStores,
  STORE_FIELDS,
  STORE_FIELD_NAMES,
  type CellFault,
  type StoreColumns,
  type StoreField,
} from '../../../core/holdings/listings/store-table.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { dropUpload, readUpload } from '../../files/uploads.ts';
import type { Table } from '../../files/table-file.ts';
import { safeCell } from '../../http/csv.ts';
import { detectorPool } from '../detection/threads/shared-threads.ts';
import { MOST_STORES } from './account-listing.ts';
import { keepListing } from './keep-listing.ts';
import { findListing, type ListingOutcome } from './listings.ts';

/** The heading that stands for each field. */
export const Headings = z.partialRecord(
  z.enum(STORE_FIELD_NAMES as [StoreField, ...StoreField[]]),
  z.string().max(500),
);
export type Headings = z.infer<typeof Headings>;

/** What a person needs to see of a table to say what its columns are. */
export interface StoreTableSight {
  readonly rows: number;
  readonly headings: readonly string[];
  /** Of the first rows. */
  readonly examples: readonly (readonly string[])[];
  readonly matched: Headings;
}

async function tableOf(ctx: Context, account: number, upload: number): Promise<Table> {
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
  if (table.rows.length > MOST_STORES)
    throw new RefusedError(`“${name}” has more than ${MOST_STORES} rows.`, [
      { field: 'upload', message: 'Send it in parts, each to a listing of its own.' },
    ]);
  return table;
}

/** Looks at a table that was sent; columns are matched as they were the last time, and by their headings. */
export async function sightStoreTable(
  ctx: Context,
  account: number,
  upload: number,
  listing: number | undefined,
): Promise<StoreTableSight> {
  const { headings, rows } = await tableOf(ctx, account, upload);
  const before = listing === undefined ? null : (await findListing(ctx.store, listing)).headings;
  const guessed = Object.fromEntries(
    Object.entries(guessColumns(headings)).map(([field, at]) => [field, headings[at] ?? '']),
  );
  const kept = Object.fromEntries(Object.entries(before ?? {}).filter(([, h]) => headings.includes(h)));
  return {
    rows: rows.length,
    headings,
    examples: rows.slice(0, 3),
    matched: Headings.parse(Object.keys(kept).length > 0 ? kept : guessed),
  };
}

/** Throws a RefusedError for a heading that is not there, stands for two fields, or is needed and missing. */
function columnsOf(table: Table, headings: Headings): StoreColumns {
  const columns: Partial<Record<StoreField, number>> = {};
  const errors: { field: string; message: string }[] = [];
  for (const field of STORE_FIELD_NAMES) {
    const heading = headings[field];
    const { needed, words } = STORE_FIELDS[field];
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

/** Takes a table as the listing's next reading, or nothing of it: then every fault is told with its cell. */
export async function takeTable(
  ctx: Context,
  account: number,
  id: number,
  upload: number,
  headings: Headings,
): Promise<ListingOutcome> {
  const listing = await findListing(ctx.store, id);
  if (listing.address.kind !== 'table')
    throw new RefusedError('This listing is an account.', [
      { field: 'id', message: 'Send tables to a listing of their own.' },
    ]);
  const table = await tableOf(ctx, account, upload);
  const { stores, faults } = readStores(table.rows, columnsOf(table, headings));
  if (faults.length > 0)
    throw new RefusedError(
      faults.length === 1
        ? 'One cell cannot be taken. Nothing was taken.'
        : `${faults.length} cells cannot be taken. Nothing was taken.`,
      faults.slice(0, 50).map((f) => ({ field: cellName(table, f), message: f.words })),
    );
  return ctx.store.transaction(async (tx) => {
    const outcome = await keepListing(tx, ctx, account, id, { stores, faults: [] });
    await tx.run('UPDATE listing SET headings = ? WHERE id = ?', [JSON.stringify(headings), id]);
    await dropUpload(tx, upload);
    return outcome;
  });
}

/** As `row 7, Kind`. */
function cellName({ headings }: Table, { row, column }: CellFault): string {
  return column === null ? `row ${row + 2}` : `row ${row + 2}, ${headings[column] || `column ${column + 1}`}`;
}

/** A copy of a table with every fault marked: its cell in colour, and what is wrong beside it. */
export async function markedTable(
  ctx: Context,
  account: number,
  upload: number,
  headings: Headings,
): Promise<Uint8Array> {
  const table = await tableOf(ctx, account, upload);
  const { faults } = readStores(table.rows, columnsOf(table, headings));
  const book = new ExcelJS.Workbook();
  const sheet = book.addWorksheet('Stores', { views: [{ state: 'frozen', ySplit: 1 }] });
  const width = table.headings.length;
  sheet.addRow([...table.headings, 'What is wrong']).font = { bold: true };
  for (const cells of table.rows) sheet.addRow(table.headings.map((_, i) => safeCell(cells[i] ?? '')));
  for (const { row, column, words } of faults) {
    const at = sheet.getRow(row + 2);
    const beside = at.getCell(width + 1);
    beside.value = beside.value ? `${String(beside.value)} ${words}` : words;
    at.getCell((column ?? width) + 1).fill = {
      type: 'pattern',
      pattern: 'solid',
      fgColor: { argb: 'FFF6C9B8' },
    };
  }
  sheet.columns.forEach((c) => (c.width = 22));
  sheet.getColumn(width + 1).width = 70;
  return new Uint8Array(await book.xlsx.writeBuffer());
}
