import { createHash } from 'node:crypto';
import { z } from 'zod';
import { compareStores, type KeptStore } from '../../../core/holdings/listings/compare-stores.ts';
import type { News } from '../../../core/holdings/listings/listing-list.ts';
import { placeKey, Store, type StoreChange } from '../../../core/holdings/listings/store.ts';
import { SourceAddress } from '../../../core/holdings/sources/source.ts';
import type { Context } from '../../context.ts';
import { putOnToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { queueMail } from '../../outbox/outbox.ts';
import { Bytes, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import type { ListedStores } from './account-listing.ts';
import { LISTING_CHANGED } from './listing-letters.ts';
import { findListing, type ListingOutcome } from './listings.ts';

const KeptRow = z.object({
  hash: Bytes,
  content: JsonColumn(Store),
  news: z.string(),
  source_id: z.number().nullable(),
});

/** Faults that are kept to be shown. */
const MOST_FAULTS = 100;
const ROWS_AT_ONCE = 500;

/**
 * Keeps a whole reading of a listing: what is new, changed, back and gone; which stores are sources already, by where they
 * lie; and tells people, on Today and by mail, where anything is other than before.
 */
export async function keepListing(
  tx: Queries,
  ctx: Context,
  by: number | null,
  id: number,
  { stores, faults }: ListedStores,
  { tell = true }: { readonly tell?: boolean } = {},
): Promise<ListingOutcome> {
  const now = ctx.now();
  const listing = await findListing(tx, id, true);
  const rows = await tx.all(
    KeptRow,
    'SELECT hash, content, news, source_id FROM found_store WHERE listing_id = ?',
    [id],
  );
  const kept = rows.map((r): KeptStore => ({ store: r.content, gone: r.news === 'gone' }));
  const difference = compareStores(kept, stores, new Set(faults.flatMap((f) => f.id ?? [])));
  const sources = await sourcePlaces(tx);
  const write = async (
    news: News,
    of: readonly { readonly store: Store; readonly changes?: readonly StoreChange[] }[],
  ) => {
    for (let i = 0; i < of.length; i += ROWS_AT_ONCE)
      await tx.run(
        `INSERT INTO found_store (listing_id, hash, name, kind, content, news, changes, standing, source_id, first_seen, seen_at) VALUES ?
         ON DUPLICATE KEY UPDATE name = VALUES(name), kind = VALUES(kind), content = VALUES(content), news = VALUES(news), changes = VALUES(changes),
           standing = IF(VALUES(source_id) IS NOT NULL, 'source', IF(standing = 'source', 'open', standing)), source_id = VALUES(source_id), seen_at = VALUES(seen_at)`,
        [
          of.slice(i, i + ROWS_AT_ONCE).map(({ store, changes }) => {
            const source = sources.get(placeKey(store.address)) ?? null;
            return [
              id,
              hashOf(store.key),
              store.name,
              store.address.kind,
              JSON.stringify(store),
              news,
              changes ? JSON.stringify(changes) : null,
              source === null ? 'open' : 'source',
              source,
              toDatetime(now),
              toDatetime(now),
            ];
          }),
        ],
      );
  };
  const plain = (of: readonly Store[]) => of.map((store) => ({ store }));
  await write('new', plain(difference.added));
  await write('back', plain(difference.back));
  await write('changed', difference.changed);
  await write('same', plain(difference.same));
  const gone = difference.gone.map(hashOf);
  for (let i = 0; i < gone.length; i += ROWS_AT_ONCE)
    await tx.run(
      "UPDATE found_store SET news = 'gone', changes = NULL WHERE listing_id = ? AND hash IN (?)",
      [id, gone.slice(i, i + ROWS_AT_ONCE)],
    );
  const outcome: ListingOutcome = {
    at: now.toISOString(),
    stores: new Set(stores.map((s) => s.key)).size,
    new: difference.added.length,
    changed: difference.changed.length,
    back: difference.back.length,
    gone: difference.gone.length,
    knownBefore: rows.filter((r) => r.source_id !== null && r.news !== 'gone').length,
    knownNow: stores.filter((s) => sources.has(placeKey(s.address))).length,
    faults: faults.slice(0, MOST_FAULTS).map(({ store, words }) => ({ store, words: words.slice(0, 300) })),
    faulty: faults.length,
  };
  await tx.run('UPDATE listing SET outcome = ?, health = ? WHERE id = ?', [
    JSON.stringify(outcome),
    JSON.stringify({ at: now.toISOString(), ok: true, words: 'It was read to its end.' }),
    id,
  ]);
  await record(tx, now, {
    actor: by ?? 'system',
    action: 'listing.read',
    object: 'listing',
    objectId: id,
    detail: {
      stores: outcome.stores,
      new: outcome.new,
      changed: outcome.changed,
      back: outcome.back,
      gone: outcome.gone,
      faulty: outcome.faulty,
    },
  });
  const sourcesGone = rows.filter(
    (r) => r.source_id !== null && difference.gone.includes(r.content.key),
  ).length;
  if (tell) await tellPeople(tx, ctx, id, listing.content, outcome, sourcesGone);
  return outcome;
}

/** Known by it for good; the listing's own word for it may be long. */
export function hashOf(key: string): Buffer {
  return createHash('sha256').update(key).digest().subarray(0, 16);
}

/** Sources by where they lie. */
export async function sourcePlaces(tx: Queries): Promise<ReadonlyMap<string, number>> {
  const rows = await tx.all(
    z.object({ id: z.number(), content: JsonColumn(z.object({ address: SourceAddress })) }),
    'SELECT id, content FROM source',
  );
  return new Map(rows.map((r) => [placeKey(r.content.address), r.id]));
}

/** As `3 new, 1 gone`; '' where all is as before. */
export function newsWords(outcome: Pick<ListingOutcome, 'new' | 'changed' | 'back' | 'gone'>): string {
  return (
    [
      [outcome.new, 'new'],
      [outcome.changed, 'changed'],
      [outcome.back, 'back again'],
      [outcome.gone, 'gone'],
    ] as const
  )
    .filter(([n]) => n > 0)
    .map(([n, words]) => `${n} ${words}`)
    .join(', ');
}

async function tellPeople(
  tx: Queries,
  ctx: Context,
  id: number,
  { name, tell }: { readonly name: string; readonly tell: readonly number[] },
  outcome: ListingOutcome,
  sourcesGone: number,
): Promise<void> {
  const news = newsWords(outcome);
  if (news === '' || tell.length === 0) return;
  const people = await tx.all(
    z.object({ id: z.number(), name: z.string(), email: z.string() }),
    'SELECT id, name, email FROM account WHERE id IN (?) AND disabled_at IS NULL',
    [tell],
  );
  const link = `/holdings/listings/${id}`;
  for (const to of people) {
    await putOnToday(tx, {
      kind: 'stores found',
      key: `${id} ${to.id}`,
      action: 'holdings.read',
      words: `${name}: ${news}`,
      detail:
        sourcesGone > 0
          ? `Of those that are gone, ${sourcesGone} ${sourcesGone === 1 ? 'is a source' : 'are sources'} of the register.`
          : `It names ${outcome.stores} stores; ${outcome.knownNow} of them are in the register.`,
      link,
      since: ctx.now(),
      assignedTo: to.id,
      dismissable: true,
    });
    await queueMail(tx, ctx, {
      key: `listing ${id} ${outcome.at} ${to.id}`,
      about: { object: 'listing', id },
      to: to.email,
      template: LISTING_CHANGED,
      values: {
        name: to.name,
        listing: name,
        news,
        stores: outcome.stores === 1 ? '1 store' : `${outcome.stores} stores`,
        known: outcome.knownNow,
        link: ctx.settings.WEB_ORIGIN + link,
      },
    });
  }
}
