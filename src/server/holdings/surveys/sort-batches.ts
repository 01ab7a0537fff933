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
  const sorted: SortedBatch[] = [];
  for (const batch of batches) {
    const of = known.get(batch.path);
    const listed = await connector.details(batch.path, batch.names);
    sorted.push({
      ...sortItems(batch.path, listed, of?.items ?? new Map(), sorting),
      batch,
      known: of,
      items: listed.length,
      bytes: listed.reduce((n, i) => n + i.size, 0),
    });
  }
  return sorted;
}
