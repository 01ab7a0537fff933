import type { VendorList } from './vendor-list.ts';

/** The list with none but these vendors, as browsers get it. */
export function narrowList(list: VendorList, ids: readonly number[]): VendorList {
  const vendors = Object.fromEntries(
    ids.flatMap((id) => {
      const vendor = list.vendors[id];
      return vendor && vendor.deletedDate === undefined ? [[String(id), vendor] as const] : [];
    }),
  );
  return { ...list, vendors };
}
