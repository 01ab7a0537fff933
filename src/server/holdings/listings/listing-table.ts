import { readStores, STORE_FIELDS, type StoreField } from '../../../core/holdings/listings/store-table.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { dropUpload } from '../../files/uploads.ts';
import {
  columnsOf,
  headingsOf,
  markedCopy,
  refuseFaults,
  sentTable,
  viewTable,
  type Headings,
  type TableView,
} from '../tables/sent-table.ts';
import { MOST_STORES } from './account-listing.ts';
import { keepListing } from './keep-listing.ts';
import { findListing, type ListingOutcome } from './listings.ts';

/** The heading that stands for each field of a store. */
export const StoreHeadings = headingsOf<StoreField>(STORE_FIELDS);

/** Looks at a table that was sent; columns are matched as they were the last time, and by their headings. */
export async function viewStoreTable(
  ctx: Context,
  account: number,
  upload: number,
  listing: number,
): Promise<TableView<StoreField>> {
  const table = await sentTable(ctx, account, upload, MOST_STORES);
  const { headings } = await findListing(ctx.store, listing);
  return viewTable<StoreField>(table, STORE_FIELDS, headings);
}

/** Takes a table as the listing's next reading, or nothing of it: then every fault is told with its cell. */
export async function takeTable(
  ctx: Context,
  account: number,
  id: number,
  upload: number,
  headings: Headings<StoreField>,
): Promise<ListingOutcome> {
  const listing = await findListing(ctx.store, id);
  if (listing.address.kind !== 'table')
    throw new RefusedError('This listing is an account.', [
      { field: 'id', message: 'Send tables to a listing of their own.' },
    ]);
  const table = await sentTable(ctx, account, upload, MOST_STORES);
  const { stores, faults } = readStores(table.rows, columnsOf<StoreField>(table, STORE_FIELDS, headings));
  refuseFaults(table, faults);
  return ctx.store.transaction(async (tx) => {
    const outcome = await keepListing(tx, ctx, account, id, { stores, faults: [] });
    await tx.run('UPDATE listing SET headings = ? WHERE id = ?', [JSON.stringify(headings), id]);
    await dropUpload(tx, upload);
    return outcome;
  });
}

/** A copy of a table with every fault marked. */
export async function markedTable(
  ctx: Context,
  account: number,
  upload: number,
  headings: Headings<StoreField>,
): Promise<Uint8Array> {
  const table = await sentTable(ctx, account, upload, MOST_STORES);
  const { faults } = readStores(table.rows, columnsOf<StoreField>(table, STORE_FIELDS, headings));
  return markedCopy(table, faults);
}
