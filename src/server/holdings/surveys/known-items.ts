import { z } from 'zod';
import { BigId, Bytes } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { hash16 } from '../items/item-hash.ts';

/** An item as it was read last. */
export interface KnownItem {
  readonly id: number;
  readonly name: string;
  readonly version: string;
  readonly hash: Buffer | null;
  readonly reading: number | null;
  readonly state: 'read' | 'unreadable' | 'gone';
}

/** Some names of a place that are looked up together. */
export interface NamesOfPlace {
  readonly path: string;
  readonly names: readonly string[];
  /** Whether those are all of its names. */
  readonly whole: boolean;
}

export interface KnownPlace {
  /** `undefined` for a place that nobody read before. */
  readonly id: number | undefined;
  readonly items: ReadonlyMap<string, KnownItem>;
}

const PlaceRow = z.object({ id: BigId.transform(Number), path: z.string() });

/** What is known of these places, of one source, in two or three queries. */
export async function knownItems(
  store: Queries,
  source: number,
  places: readonly NamesOfPlace[],
): Promise<ReadonlyMap<string, KnownPlace>> {
  const found = new Map<string, { id: number | undefined; items: Map<string, KnownItem> }>(
    places.map((p) => [p.path, { id: undefined, items: new Map() }]),
  );
  if (places.length === 0) return found;
  const byId = new Map<number, Map<string, KnownItem>>();
  for (const row of await store.all(
    PlaceRow,
    'SELECT id, path FROM place WHERE source_id = ? AND hash IN (?)',
    [source, places.map((p) => hash16(p.path))],
  )) {
    const of = found.get(row.path);
    if (!of) continue;
    of.id = row.id;
    byId.set(row.id, of.items);
  }
  const take = (rows: readonly KnownRow[]) => {
    for (const { place, ...item } of rows) byId.get(place)?.set(item.name, item);
  };
  const idsOf = (whole: boolean) =>
    places.filter((p) => p.whole === whole).flatMap((p) => found.get(p.path)?.id ?? []);
  const whole = idsOf(true);
  if (whole.length > 0) take(await readKnown(store, 'place_id IN (?)', [whole]));
  for (const p of places.filter((each) => !each.whole)) {
    const id = found.get(p.path)?.id;
    if (id !== undefined && p.names.length > 0)
      take(await readKnown(store, 'place_id = ? AND name_hash IN (?)', [id, p.names.map(hash16)]));
  }
  return found;
}

interface KnownRow extends KnownItem {
  readonly place: number;
}

/** Hundreds of thousands of them are read at once, so that rows are checked no further than their types need. */
const Raw = z.custom<Record<string, unknown>>();
const Hash = Bytes.nullable();

async function readKnown(
  store: Queries,
  where: string,
  params: Parameters<Queries['all']>[2],
): Promise<readonly KnownRow[]> {
  const rows = await store.all(
    Raw,
    `SELECT id, place_id, name, version, content_hash, reading_id, state FROM item WHERE ${where}`,
    params,
  );
  return rows.map((r) => ({
    id: Number(r['id']),
    place: Number(r['place_id']),
    name: String(r['name']),
    version: String(r['version']),
    hash: Hash.parse(r['content_hash']),
    reading: r['reading_id'] === null ? null : Number(r['reading_id']),
    state: r['state'] as KnownItem['state'],
  }));
}
