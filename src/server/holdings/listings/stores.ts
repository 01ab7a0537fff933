import { z } from 'zod';
import {
  NEWS,
  STANDINGS,
  STORE_LIST,
  type News,
  type Standing,
} from '../../../core/holdings/listings/listing-list.ts';
import { ownerOf } from '../../../core/holdings/listings/listing.ts';
import { changeWords, placeKey, Store, type StoreChange } from '../../../core/holdings/listings/store.ts';
import {
  addressWords,
  USUAL_SOURCE,
  type SourceAddress,
  type SourceKind,
} from '../../../core/holdings/sources/source.ts';
import type { Json } from '../../../core/rules/change.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { addJob } from '../../jobs/job.ts';
import type { JobKind } from '../../jobs/runner.ts';
import { listRegister, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { BigId, Instant, JsonColumn } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { checkSource, insertSource } from '../sources/sources.ts';
import { findListing } from './listings.ts';
import { sourcePlaces } from './keep-listing.ts';

export interface ListedStore {
  readonly id: string;
  readonly name: string;
  readonly kind: SourceKind;
  readonly where: string;
  readonly team: string;
  readonly region: string;
  readonly bytes: number | null;
  readonly news: News;
  /** In words, where it changed. */
  readonly changes: readonly string[];
  readonly standing: Standing;
  readonly source: number | null;
  readonly reason: string | null;
  readonly firstSeen: string;
  /** The system it belongs to by rule. */
  readonly system: { readonly id: number; readonly name: string } | null;
}

const keys = <T extends object>(of: T) => Object.keys(of) as [keyof T & string, ...(keyof T & string)[]];
const Row = z.object({
  id: BigId,
  name: z.string(),
  content: JsonColumn(Store),
  news: z.enum(keys(NEWS)),
  changes: JsonColumn(z.array(z.custom<StoreChange>()).nullable()),
  standing: z.enum(keys(STANDINGS)),
  source_id: z.number().nullable(),
  reason: z.string().nullable(),
  first_seen: Instant,
});
type Row = z.infer<typeof Row>;

const LISTED: ListSource<Row> = {
  list: STORE_LIST,
  select: 'f.id, f.name, f.content, f.news, f.changes, f.standing, f.source_id, f.reason, f.first_seen',
  from: 'found_store f',
  row: Row as unknown as z.ZodType<Row>,
  id: 'f.id',
  sorts: { name: 'f.name' },
  search: ['f.name', "JSON_VALUE(f.content, '$.team')", "JSON_EXTRACT(f.content, '$.address')"],
  filters: {
    standing: (where, value) => where.and('f.standing = ?', value),
    news: (where, value) => where.and('f.news = ?', value),
    kind: (where, value) => where.and('f.kind = ?', value),
  },
};

/** What a listing names, a page at a time. */
export async function listStores(
  { store }: Context,
  listing: number,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<ListedStore> & { total?: number }> {
  const { content } = await findListing(store, listing);
  const systems = await store.all(
    z.object({ id: z.number(), name: z.string() }),
    'SELECT id, name FROM data_system',
  );
  const page = await listRegister(store, LISTED, wish, {
    base: () => new Where().and('f.listing_id = ?', listing),
    after,
    size,
  });
  return {
    ...page,
    rows: page.rows.map(({ content: found, source_id, changes, first_seen, ...row }): ListedStore => ({
      ...row,
      kind: found.address.kind,
      where: addressWords(found.address),
      team: found.team,
      region: found.region,
      bytes: found.bytes,
      changes: (changes ?? []).map(changeWords),
      source: source_id,
      firstSeen: first_seen,
      system: systems.find((s) => s.id === ownerOf(found, content.owners)?.system) ?? null,
    })),
  };
}

/** Stores that are taken or set aside in one act. */
export const StoreIds = z
  .array(z.string().regex(/^\d+$/))
  .min(1, 'Choose at least one store.')
  .max(500, 'Choose 500 at the most, and the others afterwards.');

/** Those of a listing that were chosen, locked. Throws a RefusedError where one is not there any more. */
async function chosenStores(tx: Queries, listing: number, ids: readonly string[]): Promise<readonly Row[]> {
  const rows = await tx.all(
    Row,
    'SELECT id, name, content, news, changes, standing, source_id, reason, first_seen FROM found_store WHERE listing_id = ? AND id IN (?) ORDER BY id FOR UPDATE',
    [listing, [...ids]],
  );
  if (rows.length < new Set(ids).size)
    throw new RefusedError('Some of these stores are not in the listing any more.', [
      { field: 'ids', message: 'Look at the listing again.' },
    ]);
  return rows;
}

export interface Taken {
  readonly sources: readonly number[];
  /** Those that were in the register already. */
  readonly known: number;
}

/**
 * Takes stores into the register, all or none: each as a source of the system that the owner rules say, opened with what was
 * typed once for all of them. Whether they can be opened is tried afterwards, as visible work.
 */
export async function takeStores(
  ctx: Context,
  by: number,
  listing: number,
  { ids, user, secret }: { readonly ids: readonly string[]; readonly user: string; readonly secret: string },
): Promise<Taken> {
  return ctx.store.transaction(async (tx) => {
    const { content } = await findListing(tx, listing, true);
    const rows = await chosenStores(tx, listing, ids);
    const gone = rows.filter((r) => r.news === 'gone');
    if (gone.length > 0)
      throw new RefusedError(`The listing does not name ${gone[0]?.name ?? 'one of them'} any more.`, [
        { field: 'ids', message: 'Leave those that are gone.' },
      ]);
    const names = await takenNames(tx);
    const places = new Map(await sourcePlaces(tx));
    const sources: number[] = [];
    let known = 0;
    for (const row of rows) {
      const place = placeKey(row.content.address);
      let source = places.get(place);
      if (source !== undefined) known++;
      else {
        const name = freeName(row.name, content.name, names);
        source = await insertSource(
          tx,
          ctx,
          by,
          {
            content: { ...USUAL_SOURCE, name, system: ownerOf(row.content, content.owners)?.system ?? null },
            address: withUser(row.content.address, user),
            secret,
          },
          false,
        );
        names.add(name.toLowerCase());
        places.set(place, source);
        sources.push(source);
      }
      await tx.run("UPDATE found_store SET standing = 'source', source_id = ?, reason = NULL WHERE id = ?", [
        source,
        row.id,
      ]);
    }
    if (sources.length > 0)
      await addJob(tx, ctx.now(), {
        kind: 'try-sources',
        title: `Trying ${sources.length === 1 ? '1 new source' : `${sources.length} new sources`}`,
        about: { object: 'listing', id: listing },
        payload: { sources },
        createdBy: by,
        link: `/holdings/listings/${listing}?standing=source`,
      });
    return { sources, known };
  });
}

async function takenNames(tx: Queries): Promise<Set<string>> {
  const rows = await tx.all(z.object({ name: z.string() }), 'SELECT name FROM source');
  return new Set(rows.map((r) => r.name.toLowerCase()));
}

/** The store's own name where no source has it; else with the listing's, and with a number where that is taken as well. */
function freeName(name: string, listing: string, taken: ReadonlySet<string>): string {
  const cut = (text: string, end = '') => text.slice(0, 120 - end.length).trimEnd() + end;
  const tries = [cut(name), cut(name, ` (${listing.slice(0, 40)})`)];
  for (let n = 2; ; n++) {
    const free = tries.find((t) => !taken.has(t.toLowerCase()));
    if (free !== undefined) return free;
    tries.push(cut(name, ` (${n})`));
  }
}

function withUser(address: SourceAddress, user: string): SourceAddress {
  return 'user' in address && user !== '' ? { ...address, user } : address;
}

const TryPayload = z.object({ sources: z.array(z.int()) });

/** Tries whether sources that were taken in many at once can be opened, one after the other. */
export const trySourcesJob: JobKind = {
  kind: 'try-sources',
  lane: 'quick',
  see: 'holdings.read',
  start: 'holdings.sources',
  work: async (ctx, run): Promise<Json> => {
    const { sources } = TryPayload.parse(run.job.payload);
    let failed = 0;
    for (const [i, id] of sources.entries()) {
      if (run.signal.aborted) return { cancelled: true, failed };
      run.progress({
        words: `${i} of ${sources.length} tried`,
        share: i / sources.length,
        secondsLeft: null,
      });
      // One may have been removed meanwhile.
      const health = await checkSource(ctx, id).catch((error: unknown) => {
        if (error instanceof RefusedError) return { ok: true };
        throw error;
      });
      if (!health.ok) failed++;
    }
    return { tried: sources.length, failed };
  },
};

/** Sets stores aside with a reason, or takes that back (`null`). Those that are sources stay what they are. */
export async function setAside(
  ctx: Context,
  by: number,
  listing: number,
  ids: readonly string[],
  reason: string | null,
): Promise<{ readonly changed: number }> {
  return ctx.store.transaction(async (tx) => {
    const rows = await chosenStores(tx, listing, ids);
    const open = rows.filter((r) => r.standing !== 'source');
    if (open.length === 0) return { changed: 0 };
    await tx.run('UPDATE found_store SET standing = ?, reason = ? WHERE id IN (?)', [
      reason === null ? 'open' : 'aside',
      reason,
      open.map((r) => r.id),
    ]);
    await record(tx, ctx.now(), {
      actor: by,
      action: reason === null ? 'listing.take-back' : 'listing.set-aside',
      object: 'listing',
      objectId: listing,
      detail: { stores: open.length, ...(reason === null ? {} : { reason }) },
    });
    return { changed: open.length };
  });
}
