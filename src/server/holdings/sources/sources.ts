import { z } from 'zod';
import type { Account, AuthorityObject } from '../../../core/accounts/authority.ts';
import { SOURCE_LIST } from '../../../core/holdings/sources/source-list.ts';
import {
  addressWords,
  SourceAddress,
  SourceContent,
  takesSecret,
  SOURCE_KINDS,
  type SourceKind,
} from '../../../core/holdings/sources/source.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { keepToScope } from '../../accounts/scope-condition.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { listRegister, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { refuseTakenName } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { openText, sealText } from '../../secret.ts';
import { BigId, Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { connect, openAddress, type OpenedAddress } from '../connectors/connect.ts';
import type { RowSetting } from '../connectors/sql-database.ts';
import { SourceError, type Connector, type ListedTable } from '../connectors/connector.ts';

/** What is kept of a source as JSON: what can be edited, and where it lies. */
const Kept = SourceContent.omit({ name: true, system: true }).extend({ address: SourceAddress });

export const Health = z.object({ at: z.string(), ok: z.boolean(), words: z.string() });
export type Health = z.infer<typeof Health>;

const SourceRow = z
  .object({
    id: z.number(),
    name: z.string(),
    system_id: z.number().nullable(),
    content: JsonColumn(Kept),
    secret: z.string().nullable(),
    health: JsonColumn(Health.nullable()),
    read_at: Instant.nullable(),
    created_at: Instant,
  })
  .transform(({ content: { address, ...rest }, system_id, read_at, created_at, ...row }) => ({
    ...row,
    content: { name: row.name, system: system_id, ...rest } satisfies SourceContent,
    address,
    readAt: read_at,
    createdAt: created_at,
  }));
export type Source = z.infer<typeof SourceRow>;
const COLUMNS = 'id, name, system_id, content, secret, health, read_at, created_at';

/** Throws a RefusedError (404). */
export async function findSource(store: Queries, id: number | string, lock = false): Promise<Source> {
  const source = await store.one(
    SourceRow,
    `SELECT ${COLUMNS} FROM source WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [id],
  );
  if (!source) throw notFound('source');
  return source;
}

/** For endpoints about one source. */
export async function sourceObject(
  { store }: Context,
  { id }: { id: number | string },
): Promise<AuthorityObject> {
  const source = await findSource(store, id);
  return { kind: 'source', id: String(source.id), within: [{ kind: 'source', id: String(source.id) }] };
}

export const SOURCE: PlainKind<SourceContent> = {
  object: 'source',
  content: SourceContent,
  async vocabulary(store) {
    const systems = await store.all(
      z.object({ id: z.number(), name: z.string() }),
      'SELECT id, name FROM data_system',
    );
    return {
      path: ([first]) => FIELD_WORDS[first as keyof SourceContent],
      value: (value, [first]) => {
        if (first === 'system') return systems.find((s) => s.id === value)?.name ?? 'no system';
        return value === null ? 'no limit' : undefined;
      },
    };
  },
  read: async (store, key, lock) => (await findSource(store, key, lock)).content,
  async write(tx, key, { name, system, ...rest }) {
    const { address } = await findSource(tx, key);
    await requireSystem(tx, system);
    await refuseTakenName('source', () =>
      tx.run('UPDATE source SET name = ?, system_id = ?, content = ? WHERE id = ?', [
        name,
        system,
        JSON.stringify({ ...rest, address }),
        key,
      ]),
    );
  },
};

const FIELD_WORDS: Readonly<Record<keyof SourceContent, string>> = {
  name: 'The name',
  system: 'The system',
  itemsPerSecond: 'How many items a second are read',
  rowsPerTable: 'How many rows of a table are read',
  rowTemplates: 'How rows are told apart by their day',
  pricePerGb: 'What reading a gigabyte costs',
};

async function requireSystem(tx: Queries, id: number | null): Promise<void> {
  if (id === null) return;
  const found = await tx.one(z.object({ id: z.number() }), 'SELECT id FROM data_system WHERE id = ?', [id]);
  if (!found)
    throw new RefusedError('There is no such system.', [
      { field: 'system', message: 'Choose one of the register.' },
    ]);
}

/** Reads the source as it is now. Throws a SourceError for one that may not be read. */
export function connectSource(ctx: Context, { address, secret, content }: Source): Promise<Connector> {
  const clear = secret === null ? '' : openText(ctx.settings.SECRET_KEY, secret);
  return connect(ctx.settings, address, clear, content);
}

/** Where the rights of a source are read. Throws a SourceError for one that may not be read. */
export function openRights(ctx: Context, { address, secret }: Source): Promise<OpenedAddress> {
  const clear = secret === null ? '' : openText(ctx.settings.SECRET_KEY, secret);
  return openAddress(ctx.settings, address, clear);
}

/** Tries an address and what opens it. Throws a RefusedError that names the field. */
export async function tryAddress(
  ctx: Context,
  address: SourceAddress,
  secret: string,
  rows: RowSetting,
): Promise<void> {
  try {
    const connector = await connect(ctx.settings, address, secret, rows);
    try {
      await connector.check();
    } finally {
      await connector.close();
    }
  } catch (error) {
    if (!(error instanceof SourceError)) throw error;
    throw new RefusedError('The source could not be opened.', [
      { field: error.field || 'address', message: error.message },
    ]);
  }
}

export interface NewSource {
  readonly content: SourceContent;
  readonly address: SourceAddress;
  readonly secret: string;
}

/** Takes in a source, whose address was `tried` before. Throws a RefusedError for a name that is taken. */
export async function insertSource(
  tx: Queries,
  ctx: Context,
  by: number | null,
  { content: { name, system, ...rest }, address, secret }: NewSource,
  tried = true,
): Promise<number> {
  const now = ctx.now();
  await requireSystem(tx, system);
  const { id } = await refuseTakenName('source', () =>
    tx.run(
      'INSERT INTO source (system_id, name, kind, content, secret, health, created_at) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [
        system,
        name,
        address.kind,
        JSON.stringify({ ...rest, address }),
        takesSecret(address.kind) ? sealText(ctx.settings.SECRET_KEY, secret) : null,
        tried
          ? JSON.stringify({ at: now.toISOString(), ok: true, words: 'It could be opened.' } satisfies Health)
          : null,
        toDatetime(now),
      ],
    ),
  );
  await record(tx, now, {
    actor: by ?? 'system',
    action: 'source.add',
    object: 'source',
    objectId: id,
    detail: { name, kind: address.kind },
  });
  return id;
}

/** Another place, or another secret, after they were tried; without a secret the one it has stays. */
export async function moveSource(
  ctx: Context,
  by: number,
  id: number,
  address: SourceAddress,
  secret: string | undefined,
): Promise<void> {
  const source = await findSource(ctx.store, id);
  if (address.kind !== source.address.kind)
    throw new RefusedError('A source keeps its kind.', [
      { field: 'kind', message: 'Take in another source.' },
    ]);
  const sealed = secret === undefined ? source.secret : sealText(ctx.settings.SECRET_KEY, secret);
  await tryAddress(
    ctx,
    address,
    sealed === null ? '' : openText(ctx.settings.SECRET_KEY, sealed),
    source.content,
  );
  await ctx.store.transaction(async (tx) => {
    const { name: _n, system: _s, ...rest } = (await findSource(tx, id, true)).content;
    await tx.run('UPDATE source SET content = ?, secret = ? WHERE id = ?', [
      JSON.stringify({ ...rest, address }),
      takesSecret(address.kind) ? sealed : null,
      id,
    ]);
    await writeHealth(tx, ctx.now(), id, { ok: true, words: 'It could be opened.' });
    await record(tx, ctx.now(), {
      actor: by,
      action: 'source.move',
      object: 'source',
      objectId: id,
      detail: { kind: address.kind, secret: secret === undefined ? 'kept' : 'changed' },
    });
  });
}

/** Tries whether it can be read as it is kept, and keeps the answer. */
export async function checkSource(ctx: Context, id: number): Promise<Health> {
  const source = await findSource(ctx.store, id);
  const words = await openingFault(ctx, source);
  const health = { ok: words === undefined, words: words ?? 'It could be opened.' };
  await writeHealth(ctx.store, ctx.now(), id, health);
  return { ...health, at: ctx.now().toISOString() };
}

/** Throws a RefusedError where the source cannot be opened. */
export async function sourceTables(ctx: Context, id: number): Promise<readonly ListedTable[]> {
  try {
    const connector = await connectSource(ctx, await findSource(ctx.store, id));
    try {
      return (await connector.tables?.()) ?? [];
    } finally {
      await connector.close();
    }
  } catch (error) {
    if (!(error instanceof SourceError)) throw error;
    throw new RefusedError(`Its tables cannot be read now: ${error.message}`, [], 409);
  }
}

async function openingFault(ctx: Context, source: Source): Promise<string | undefined> {
  try {
    const connector = await connectSource(ctx, source);
    try {
      await connector.check();
    } finally {
      await connector.close();
    }
    return undefined;
  } catch (error) {
    return (error as Error).message;
  }
}

export async function writeHealth(
  store: Queries,
  now: Date,
  id: number,
  health: Omit<Health, 'at'>,
): Promise<void> {
  await store.run('UPDATE source SET health = ? WHERE id = ?', [
    JSON.stringify({ ...health, words: health.words.slice(0, 500), at: now.toISOString() }),
    id,
  ]);
}

/** A source as the desk shows it: nothing secret. */
export interface SourceView {
  readonly id: number;
  readonly address: SourceAddress;
  readonly hasSecret: boolean;
  readonly health: Health | null;
  readonly readAt: string | null;
  readonly items: number;
  readonly unreadable: number;
  readonly bytes: number;
}

export async function viewSource({ store }: Context, id: number): Promise<SourceView> {
  const { address, secret, health, readAt } = await findSource(store, id);
  const counts = await store.one(
    z.object({ items: Count, unreadable: Count, bytes: Count }),
    "SELECT COUNT(*) AS items, SUM(state = 'unreadable') AS unreadable, SUM(size) AS bytes FROM item WHERE source_id = ? AND state <> 'gone'",
    [id],
  );
  return {
    id,
    address,
    hasSecret: secret !== null,
    health,
    readAt,
    items: counts?.items ?? 0,
    unreadable: counts?.unreadable ?? 0,
    bytes: counts?.bytes ?? 0,
  };
}

export interface ListedSource {
  readonly id: string;
  readonly name: string;
  readonly kind: SourceKind;
  readonly where: string;
  readonly system: string | null;
  readonly systemId: number | null;
  readonly health: Health | null;
  readonly readAt: string | null;
}

const ListedRow = z
  .object({
    id: BigId,
    name: z.string(),
    kind: z.string(),
    content: JsonColumn(Kept),
    system: z.string().nullable(),
    system_id: z.number().nullable(),
    health: JsonColumn(Health.nullable()),
    read_at: Instant.nullable(),
  })
  .transform(({ content, system_id, read_at, kind, ...row }): ListedSource => ({
    ...row,
    kind: kind as SourceKind,
    where: addressWords(content.address),
    systemId: system_id,
    readAt: read_at,
  }));

const LISTED: ListSource<ListedSource> = {
  list: SOURCE_LIST,
  select: 's.id, s.name, s.kind, s.content, y.name AS system, s.system_id, s.health, s.read_at',
  from: 'source s LEFT JOIN data_system y ON y.id = s.system_id',
  row: ListedRow as unknown as z.ZodType<ListedSource>,
  id: 's.id',
  sorts: { name: 's.name' },
  search: ['s.name'],
  filters: {
    kind: (where, value) => where.and('s.kind = ?', value),
    system: (where, value) => where.and('s.system_id = ?', value),
  },
};

/** Those that an account may see. */
export async function listSources(
  { store }: Context,
  account: Pick<Account, 'scope'>,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<ListedSource> & { total?: number }> {
  return listRegister(store, LISTED, wish, {
    base: () => keepToScope(new Where(), account, 'source', 's.id'),
    after,
    size,
  });
}

/** All sources, as they are called. */
export function sourceNames(
  store: Queries,
): Promise<readonly { readonly id: string; readonly name: string; readonly kind: SourceKind }[]> {
  return store.all(
    z.object({
      id: BigId,
      name: z.string(),
      kind: z.custom<SourceKind>((kind) => String(kind) in SOURCE_KINDS),
    }),
    'SELECT id, name, kind FROM source ORDER BY name',
  );
}
