import { RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { readTable, type Table } from './table-file.ts';
import { dropUpload, readUpload } from './uploads.ts';

/**
 * A list in CSV that somebody sent before; it is not kept. Throws a RefusedError for what is none, and for more rows than
 * `most`, with `then` as what would do.
 */
export async function readSentCsv(
  ctx: Context,
  account: number,
  upload: number,
  most: number,
  then: string,
): Promise<Table> {
  const { name, bytes } = await readUpload(ctx, account, upload);
  await dropUpload(ctx.store, upload);
  const refuse = (words: string, message: string) => new RefusedError(words, [{ field: 'upload', message }]);
  let table: Table;
  try {
    table = readTable(bytes);
  } catch (error) {
    throw refuse(`“${name}” is no list in CSV.`, (error as Error).message);
  }
  if (table.rows.length > most) throw refuse(`“${name}” has more than ${most} rows.`, then);
  return table;
}

/** What is wrong with a cell; rows are counted from 1, without the headings. */
export interface CellFault {
  readonly row: number;
  readonly column: string;
  readonly words: string;
}

/** Throws a RefusedError that names each cell that cannot be taken, where there are any. */
export function refuseCells(faults: readonly CellFault[]): void {
  if (faults.length === 0) return;
  throw new RefusedError(
    faults.length === 1
      ? 'One cell cannot be taken. Nothing was taken.'
      : `${faults.length} cells cannot be taken. Nothing was taken.`,
    faults.slice(0, 50).map((f) => ({ field: `row ${f.row}, ${f.column}`, message: f.words })),
  );
}
