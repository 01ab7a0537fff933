import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import { MADE_UP_LIST } from '../../../core/websites/tcf/made-up-list.ts';
import { VendorList } from '../../../core/websites/tcf/vendor-list.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { decode } from '../../files/extract/decode.ts';
import { dropUpload, readUpload } from '../../files/uploads.ts';
import { Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

/** The newest that was taken in, or the one that ships. */
export async function readVendorList(store: Queries): Promise<VendorList> {
  const row = await store.one(
    z.object({ content: JsonColumn(VendorList) }),
    'SELECT content FROM vendor_list ORDER BY id DESC LIMIT 1',
  );
  return row?.content ?? MADE_UP_LIST;
}

export interface VendorListFigures {
  readonly version: number;
  readonly lastUpdated: string;
  readonly vendors: readonly { readonly id: number; readonly name: string }[];
  readonly purposes: readonly { readonly id: number; readonly name: string }[];
  /** `null` for the one that ships, whose vendors are made up. */
  readonly takenAt: string | null;
}

/** What there is to choose from. */
export async function vendorListFigures(store: Queries): Promise<VendorListFigures> {
  const list = await readVendorList(store);
  const row = await store.one(
    z.object({ taken_at: Instant }),
    'SELECT taken_at FROM vendor_list ORDER BY id DESC LIMIT 1',
  );
  const named = (
    all: Readonly<Record<string, { id: number; name: string; deletedDate?: string | undefined }>>,
  ) =>
    Object.values(all)
      .filter((v) => v.deletedDate === undefined)
      .map(({ id, name }) => ({ id, name }))
      .toSorted((a, b) => a.id - b.id);
  return {
    version: list.vendorListVersion,
    lastUpdated: list.lastUpdated,
    vendors: named(list.vendors),
    purposes: named(list.purposes),
    takenAt: row?.taken_at ?? null,
  };
}

/** Takes a list in the standard’s format in the place of the one before. Throws a RefusedError that names what is wrong. */
export async function takeVendorList(
  ctx: Context,
  account: number,
  upload: number,
): Promise<{ readonly version: number; readonly vendors: number }> {
  const { name, bytes } = await readUpload(ctx, account, upload);
  await dropUpload(ctx.store, upload);
  const list = readList(name, bytes);
  await ctx.store.transaction(async (tx) => {
    await tx.run('INSERT INTO vendor_list (version, content, taken_by, taken_at) VALUES (?, ?, ?, ?)', [
      list.vendorListVersion,
      JSON.stringify(list),
      account,
      toDatetime(ctx.now()),
    ]);
    await record(tx, ctx.now(), {
      actor: account,
      action: 'vendor-list.read',
      object: 'vendor list',
      objectId: list.vendorListVersion,
      detail: { vendors: Object.keys(list.vendors).length },
    });
  });
  return { version: list.vendorListVersion, vendors: Object.keys(list.vendors).length };
}

function readList(name: string, bytes: Buffer): VendorList {
  const refuse = (fields: RefusedError['fields']) => new RefusedError(`“${name}” is no vendor list.`, fields);
  let value: unknown;
  try {
    value = JSON.parse(decode(bytes).text);
  } catch (error) {
    throw refuse([{ field: 'upload', message: `It is no sound JSON: ${(error as Error).message}.` }]);
  }
  const read = VendorList.safeParse(value);
  if (read.success) return read.data;
  throw refuse(
    read.error.issues.slice(0, 8).map((i) => ({ field: i.path.join('.') || 'upload', message: i.message })),
  );
}
