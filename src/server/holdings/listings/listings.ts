import { z } from 'zod';
import { nextTime } from '../../../core/schedule/schedule.ts';
import type { AuthorityObject } from '../../../core/accounts/authority.ts';
import {
  LISTING_LIST,
  NEWS,
  STANDINGS,
  type News,
  type Standing,
} from '../../../core/holdings/listings/listing-list.ts';
import { ListingAddress, ListingContent } from '../../../core/holdings/listings/listing.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { accountNames } from '../../accounts/account-names.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { listRegister, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { refuseTakenName, writeNamed, type NamedTable } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { openText, sealText } from '../../secret.ts';
import { Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { SourceError } from '../connectors/connector.ts';
import { Health } from '../sources/sources.ts';
import { readAccount } from './account-listing.ts';

/** What came of the latest whole reading. */
export const ListingOutcome = z.object({
  at: z.string(),
  stores: z.number(),
  new: z.number(),
  changed: z.number(),
  back: z.number(),
  gone: z.number(),
  /** In the register when it was read before, and when it was read now. */
  knownBefore: z.number(),
  knownNow: z.number(),
  /** The first of what could not be taken, and how many there were. */
  faults: z.array(z.object({ store: z.string(), words: z.string() })),
  faulty: z.number(),
});
export type ListingOutcome = z.infer<typeof ListingOutcome>;

const ListingRow = z.object({
  id: z.number(),
  content: JsonColumn(ListingContent),
  address: JsonColumn(ListingAddress),
  secret: z.string().nullable(),
  headings: JsonColumn(z.record(z.string(), z.string()).nullable()),
  outcome: JsonColumn(ListingOutcome.nullable()),
  health: JsonColumn(Health.nullable()),
  next_run: Instant.nullable(),
});
export type Listing = z.infer<typeof ListingRow>;

/** Throws a RefusedError (404). */
export async function findListing(store: Queries, id: number | string, lock = false): Promise<Listing> {
  const listing = await store.one(
    ListingRow,
    `SELECT id, content, address, secret, headings, outcome, health, next_run FROM listing WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [id],
  );
  if (!listing) throw notFound('listing');
  return listing;
}

/** For endpoints about one listing: what it names belongs to no source yet. */
export async function listingObject(
  { store }: Context,
  { id }: { id: number | string },
): Promise<AuthorityObject> {
  await findListing(store, id);
  return { kind: 'listing', id: String(id), wholeOf: ['source'] };
}

const TABLE: NamedTable<ListingContent> = {
  table: 'listing',
  object: 'listing',
  content: ListingContent,
  columns: ({ schedule }, now) => ({ next_run: schedule ? toDatetime(nextTime(schedule, now)) : null }),
};

export const LISTING: PlainKind<ListingContent> = {
  object: 'listing',
  content: ListingContent,
  async vocabulary(store) {
    const Named = z.object({ id: z.number(), name: z.string() });
    const [people, systems] = [
      await accountNames(store),
      await store.all(Named, 'SELECT id, name FROM data_system'),
    ];
    return {
      path: ([first]) => FIELD_WORDS[first as keyof ListingContent],
      value: (value, [first, , third]) => {
        if (value === null) return 'not by itself';
        if (first === 'tell' && typeof value === 'number') return people.get(value);
        return first === 'owners' && third === 'system'
          ? systems.find((s) => s.id === value)?.name
          : undefined;
      },
    };
  },
  read: async (store, key, lock) => (await findListing(store, key, lock)).content,
  async write(tx, key, content, _before, now) {
    const { address } = await findListing(tx, key);
    if (address.kind === 'table' && content.schedule)
      throw new RefusedError('A table is not asked by itself.', [
        { field: 'schedule', message: 'It is read when somebody sends it.' },
      ]);
    await requireNamed(tx, content);
    await writeNamed(tx, TABLE, key, content, now);
  },
};

const FIELD_WORDS: Readonly<Record<keyof ListingContent, string>> = {
  name: 'The name',
  schedule: 'When it is asked',
  tell: 'Who is told',
  owners: 'Whose a store is',
};

/** Whom it tells and whose stores it says they are, have to be there. */
async function requireNamed(tx: Queries, { tell, owners }: ListingContent): Promise<void> {
  const Id = z.object({ id: z.number() });
  const missing = async (table: 'account' | 'data_system', ids: readonly number[]) => {
    if (ids.length === 0) return false;
    const found = await tx.all(Id, `SELECT id FROM ${table} WHERE id IN (?)`, [[...new Set(ids)]]);
    return found.length < new Set(ids).size;
  };
  if (await missing('account', tell))
    throw new RefusedError('One of those it tells is gone.', [
      { field: 'tell', message: 'Choose people who have an account.' },
    ]);
  if (
    await missing(
      'data_system',
      owners.map((o) => o.system),
    )
  )
    throw new RefusedError('One of the systems is gone.', [
      { field: 'owners', message: 'Choose systems of the register.' },
    ]);
}

export interface NewListing {
  readonly content: ListingContent;
  readonly address: ListingAddress;
  readonly secret: string;
}

/** Tries the first page of an account. Throws a RefusedError that names the field. */
export async function tryListing(ctx: Context, address: ListingAddress, secret: string): Promise<void> {
  if (address.kind === 'table') return;
  try {
    await readAccount(ctx.settings, address, secret, { mostPages: 1 });
  } catch (error) {
    if (!(error instanceof SourceError)) throw error;
    throw new RefusedError('The account could not be asked.', [
      { field: error.field || 'url', message: error.message },
    ]);
  }
}

/** Takes in a listing whose address was tried. Throws a RefusedError for a name that is taken. */
export async function addListing(
  tx: Queries,
  ctx: Context,
  by: number | null,
  { content, address, secret }: NewListing,
): Promise<number> {
  const now = ctx.now();
  await requireNamed(tx, content);
  const { id } = await refuseTakenName('listing', () =>
    tx.run(
      'INSERT INTO listing (name, content, address, secret, next_run, created_at) VALUES (?, ?, ?, ?, ?, ?)',
      [
        content.name,
        JSON.stringify(content),
        JSON.stringify(address),
        address.kind === 'account' ? sealText(ctx.settings.SECRET_KEY, secret) : null,
        content.schedule ? toDatetime(nextTime(content.schedule, now)) : null,
        toDatetime(now),
      ],
    ),
  );
  await record(tx, now, {
    actor: by ?? 'system',
    action: 'listing.add',
    object: 'listing',
    objectId: id,
    detail: { name: content.name, kind: address.kind },
  });
  return id;
}

/** Another address or key, after they were tried; without a key the one it has stays. */
export async function moveListing(
  ctx: Context,
  by: number,
  id: number,
  address: ListingAddress,
  secret: string | undefined,
): Promise<void> {
  const listing = await findListing(ctx.store, id);
  if (address.kind !== listing.address.kind)
    throw new RefusedError('A listing keeps its kind.', [{ field: 'kind', message: 'Add another listing.' }]);
  await tryListing(ctx, address, secret ?? listingKey(ctx, listing));
  await ctx.store.transaction(async (tx) => {
    const { secret: kept } = await findListing(tx, id, true);
    await tx.run('UPDATE listing SET address = ?, secret = ? WHERE id = ?', [
      JSON.stringify(address),
      secret === undefined ? kept : sealText(ctx.settings.SECRET_KEY, secret),
      id,
    ]);
    await record(tx, ctx.now(), {
      actor: by,
      action: 'listing.move',
      object: 'listing',
      objectId: id,
      detail: { secret: secret === undefined ? 'kept' : 'changed' },
    });
  });
}

export function listingKey(ctx: Context, { secret }: Pick<Listing, 'secret'>): string {
  return secret === null ? '' : openText(ctx.settings.SECRET_KEY, secret);
}

/** Lets a listing go, with what it named; sources that were taken in from it stay. */
export async function removeListing(ctx: Context, by: number, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { content } = await findListing(tx, id, true);
    await tx.run('DELETE FROM listing WHERE id = ?', [id]);
    await record(tx, ctx.now(), {
      actor: by,
      action: 'listing.remove',
      object: 'listing',
      objectId: id,
      detail: { name: content.name },
    });
  });
}

/** A listing as the desk shows it: nothing secret. */
export interface ListingView {
  readonly id: number;
  readonly address: ListingAddress;
  /** Of tables: the heading of each field, as they were matched last. */
  readonly headings: Readonly<Record<string, string>> | null;
  readonly outcome: ListingOutcome | null;
  readonly health: Health | null;
  readonly nextRun: string | null;
  readonly counts: Readonly<Record<Standing, number>> & { readonly news: Readonly<Record<News, number>> };
  readonly reading: boolean;
}

export async function viewListing({ store }: Context, id: number): Promise<ListingView> {
  const { address, headings, outcome, health, next_run } = await findListing(store, id);
  const counted = await store.all(
    z.object({ standing: z.string(), news: z.string(), n: Count }),
    'SELECT standing, news, COUNT(*) AS n FROM found_store WHERE listing_id = ? GROUP BY standing, news',
    [id],
  );
  const sum = <K extends string>(by: 'standing' | 'news', all: Readonly<Record<K, string>>) =>
    Object.fromEntries(
      Object.keys(all).map((k) => [k, counted.filter((c) => c[by] === k).reduce((n, c) => n + c.n, 0)]),
    ) as Record<K, number>;
  const job = await store.one(
    z.object({ n: Count }),
    "SELECT COUNT(*) AS n FROM job WHERE kind = 'read-listing' AND object = 'listing' AND object_id = ? AND state IN ('waiting', 'running')",
    [String(id)],
  );
  return {
    id,
    address,
    headings,
    outcome,
    health,
    nextRun: next_run,
    counts: { ...sum('standing', STANDINGS), news: sum('news', NEWS) },
    reading: (job?.n ?? 0) > 0,
  };
}

const ListedRow = z
  .object({
    id: z.number(),
    name: z.string(),
    address: JsonColumn(ListingAddress),
    outcome: JsonColumn(ListingOutcome.nullable()),
    health: JsonColumn(Health.nullable()),
    open: Count,
  })
  .transform(({ address, outcome, ...row }) => ({
    ...row,
    kind: address.kind,
    readAt: outcome?.at ?? null,
    stores: outcome?.stores ?? 0,
  }));
export type ListedListing = z.infer<typeof ListedRow>;

const LISTED: ListSource<ListedListing> = {
  list: LISTING_LIST,
  select: `l.id, l.name, l.address, l.outcome, l.health,
    (SELECT COUNT(*) FROM found_store f WHERE f.listing_id = l.id AND f.standing = 'open' AND f.news <> 'gone') AS open`,
  from: 'listing l',
  row: ListedRow as unknown as z.ZodType<ListedListing>,
  id: 'l.id',
  sorts: { name: 'l.name' },
  search: ['l.name'],
  filters: {},
};

export async function listListings(
  { store }: Context,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<ListedListing> & { total?: number }> {
  return listRegister(store, LISTED, wish, { after, size });
}
