import { z } from 'zod';
import { BigId } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import type { Connector } from '../connectors/connector.ts';
import { knownItems, type KnownPlace } from './known-items.ts';
import type { Batch } from './survey-reader.ts';
import { sortItems, type Sorted, type Sorting } from './survey-step.ts';

export interface SortedBatch extends Sorted {
  readonly batch: Batch;
  readonly known: KnownPlace | undefined;
  /** Items that are there, and bytes in all of them. */
  readonly items: number;
  readonly bytes: number;
}

/** Batches of a source with what has to be done with their items, as they are now and as they are known. */
export async function sortBatches(
  store: Queries,
  source: number,
  connector: Connector,
  batches: readonly Batch[],
  sorting: Sorting,
): Promise<readonly SortedBatch[]> {
  const known = await knownItems(store, source, batches);
  const found = await foundBy(store, known, sorting);
  const sorted: SortedBatch[] = [];
  for (const batch of batches) {
    const of = known.get(batch.path);
    const listed = await connector.details(batch.path, batch.names);
    sorted.push({
      ...sortItems(batch.path, listed, of?.items ?? new Map(), sorting, found),
      batch,
      known: of,
      items: listed.length,
      bytes: listed.reduce((n, i) => n + i.size, 0),
    });
  }
  return sorted;
}

const Found = z.object({ item_id: BigId.transform(Number), detector: z.string() });

/** What detectors that since only find less found in items that were read with them. */
async function foundBy(
  store: Queries,
  known: ReadonlyMap<string, KnownPlace>,
  { narrowed, readings, reading }: Sorting,
): Promise<ReadonlyMap<number, ReadonlySet<string>>> {
  if (narrowed.size === 0) return new Map();
  const touched = new Set(
    [...readings].flatMap(([id, with_]) =>
      with_.some((d) => narrowed.has(`${d.id} ${d.version}`)) ? [id] : [],
    ),
  );
  const items = [...known.values()].flatMap((p) =>
    [...p.items.values()].filter(
      (i) => i.reading !== null && i.reading !== reading && touched.has(i.reading),
    ),
  );
  if (items.length === 0) return new Map();
  const detectors = [...new Set([...narrowed].map((n) => n.split(' ', 1)[0] ?? ''))];
  const rows = await store.all(
    Found,
    'SELECT item_id, detector FROM finding WHERE item_id IN (?) AND detector IN (?) AND rehearsed = 0',
    [items.map((i) => i.id), detectors],
  );
  const found = new Map<number, Set<string>>();
  for (const { item_id, detector } of rows) {
    const all = found.get(item_id);
    if (all) all.add(detector);
    else found.set(item_id, new Set([detector]));
  }
  return found;
}
