import { storeChanges, type Store, type StoreChange } from './store.ts';

/** A store as it was kept. */
export interface KeptStore {
  readonly store: Store;
  readonly gone: boolean;
}

/** What a reading of a listing means for what was known. */
export interface ListingDifference {
  /** Never seen before. */
  readonly added: readonly Store[];
  /** Seen before, and not the last time. */
  readonly back: readonly Store[];
  readonly changed: readonly { readonly store: Store; readonly changes: readonly StoreChange[] }[];
  readonly same: readonly Store[];
  /** Keys of those that are not listed any more. */
  readonly gone: readonly string[];
}

/**
 * Compares what a listing names now with what was kept of it, by its keys. Of a key that comes twice the first counts. What
 * could not be taken for a fault of its own (`unreadable`, keys) is not gone.
 */
export function compareStores(
  kept: readonly KeptStore[],
  now: readonly Store[],
  unreadable: ReadonlySet<string> = new Set(),
): ListingDifference {
  const before = new Map(kept.map((k) => [k.store.key, k]));
  const seen = new Set<string>();
  const added: Store[] = [];
  const back: Store[] = [];
  const same: Store[] = [];
  const changed: { store: Store; changes: readonly StoreChange[] }[] = [];
  for (const store of now) {
    if (seen.has(store.key)) continue;
    seen.add(store.key);
    const was = before.get(store.key);
    if (!was) added.push(store);
    else if (was.gone) back.push(store);
    else {
      const changes = storeChanges(was.store, store);
      if (changes.length > 0) changed.push({ store, changes });
      else same.push(store);
    }
  }
  const gone = kept
    .filter((k) => !k.gone && !seen.has(k.store.key) && !unreadable.has(k.store.key))
    .map((k) => k.store.key);
  return { added, back, changed, same, gone };
}
