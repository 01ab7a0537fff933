import { z } from 'zod';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import {
  FIRST_LIBRARY,
  KnownTracker,
  NAME_MATCHES,
  TrackerLibrary,
} from '../../../core/websites/trackers/known-tracker.ts';
import { KNOWN_TRACKER_LIST } from '../../../core/websites/trackers/known-tracker-list.ts';
import { TRACKER_KINDS } from '../../../core/websites/trackers/tracker.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import {
  listCount,
  listFacet,
  listPage,
  type Facet,
  type ListSource,
  type WishInput,
} from '../../lists/list-source.ts';
import { Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import { isDuplicate, type Queries } from '../../store/pool.ts';
import { listPurposes } from '../notices/purposes.ts';

const Row = z
  .object({
    id: z.number(),
    name: z.string(),
    name_match: z.enum(NAME_MATCHES),
    kind: z.enum(['', ...TRACKER_KINDS]),
    domain: z.string(),
    provider: z.string(),
    purpose: z.string(),
    lifetime: z.string(),
    texts: JsonColumn(z.record(z.string(), z.string())),
    revision: z.number(),
    edited_at: Instant,
  })
  .transform(({ name_match, kind, edited_at, ...r }) => ({
    ...r,
    match: name_match,
    kind: kind === '' ? null : kind,
    editedAt: edited_at,
  }));
export type ListedKnown = z.infer<typeof Row>;
const COLUMNS = 'id, name, name_match, kind, domain, provider, purpose, lifetime, texts, revision, edited_at';

/** The organisation's library, with what every new one begins with behind it. */
export async function readLibrary(store: Queries): Promise<TrackerLibrary> {
  return new TrackerLibrary([...(await allKnown(store)), ...FIRST_LIBRARY]);
}

export async function allKnown(store: Queries): Promise<KnownTracker[]> {
  const rows = await store.all(Row, `SELECT ${COLUMNS} FROM known_tracker ORDER BY id LIMIT 50000`);
  return rows.map(plain);
}

function plain({ id: _id, revision: _revision, editedAt: _at, ...entry }: ListedKnown): KnownTracker {
  return entry;
}

const SOURCE: ListSource<ListedKnown> = {
  list: KNOWN_TRACKER_LIST,
  select: COLUMNS,
  from: 'known_tracker',
  row: Row,
  id: 'id',
  sorts: { name: 'name', domain: 'domain', provider: 'provider', purpose: 'purpose' },
  search: ['name', 'domain', 'provider'],
  filters: { purpose: (where, code) => where.and('purpose = ?', code) },
};

export async function listKnown(
  store: Queries,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<KnownPage> {
  const [page, total, all, purposes] = await Promise.all([
    listPage(store, SOURCE, wish, { after, size }),
    listCount(store, SOURCE, wish),
    listCount(store, SOURCE, {}),
    listFacet(store, SOURCE, wish, 'purpose', 'purpose'),
  ]);
  return { ...page, total, all, purposes };
}

export interface KnownPage extends Page<ListedKnown> {
  /** That match, and in all. */
  readonly total: number;
  readonly all: number;
  readonly purposes: readonly Facet[];
}

export async function findKnown(store: Queries, id: number): Promise<ListedKnown> {
  const row = await store.one(Row, `SELECT ${COLUMNS} FROM known_tracker WHERE id = ?`, [id]);
  if (!row) throw notFound('entry of the library');
  return row;
}

async function requirePurposes(tx: Queries, entries: readonly KnownTracker[]): Promise<void> {
  const codes = (await listPurposes(tx)).map((p) => p.code);
  const wrong = entries.findIndex((e) => !codes.includes(e.purpose));
  if (wrong >= 0)
    throw new RefusedError('There is no such purpose.', [
      {
        field: entries.length > 1 ? `entry ${wrong + 1}, purpose` : 'purpose',
        message: `“${entries[wrong]?.purpose}” is none of ${codes.join(', ')}.`,
      },
    ]);
}

function values(e: KnownTracker, by: number | null, at: Date): (string | number | null)[] {
  return [
    e.name,
    e.match,
    e.kind ?? '',
    e.domain,
    e.provider,
    e.purpose,
    e.lifetime,
    JSON.stringify(e.texts),
    by,
    toDatetime(at),
  ];
}

const INSERT =
  'INSERT INTO known_tracker (name, name_match, kind, domain, provider, purpose, lifetime, texts, edited_by, edited_at) VALUES';

export async function addKnown(
  ctx: Context,
  accountId: number,
  entry: KnownTracker,
): Promise<{ id: number }> {
  return ctx.store.transaction(async (tx) => {
    await requirePurposes(tx, [entry]);
    try {
      const { id } = await tx.run(`${INSERT} (?)`, [values(entry, accountId, ctx.now())]);
      await record(tx, ctx.now(), {
        actor: accountId,
        action: 'library.add',
        object: 'known tracker',
        objectId: id,
        detail: { name: entry.name, purpose: entry.purpose },
      });
      return { id };
    } catch (error) {
      if (isDuplicate(error)) throw alreadyThere();
      throw error;
    }
  });
}

/** Throws a RefusedError (409) when somebody else changed it since `revision`. */
export async function editKnown(
  ctx: Context,
  accountId: number,
  id: number,
  revision: number,
  entry: KnownTracker,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await requirePurposes(tx, [entry]);
    const before = await tx.one(Row, `SELECT ${COLUMNS} FROM known_tracker WHERE id = ? FOR UPDATE`, [id]);
    if (!before) throw notFound('entry of the library');
    if (before.revision !== revision)
      throw new RefusedError(
        'Somebody else changed this entry meanwhile. It is shown as it is now.',
        [],
        409,
      );
    try {
      await tx.run(
        'UPDATE known_tracker SET name = ?, name_match = ?, kind = ?, domain = ?, provider = ?, purpose = ?, lifetime = ?, texts = ?, edited_by = ?, edited_at = ?, revision = revision + 1 WHERE id = ?',
        [...values(entry, accountId, ctx.now()), id],
      );
    } catch (error) {
      if (isDuplicate(error)) throw alreadyThere();
      throw error;
    }
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'library.edit',
      object: 'known tracker',
      objectId: id,
      detail: { name: entry.name, before: before.purpose, after: entry.purpose },
    });
  });
}

/** Takes an entry out; returns it, for undo. */
export async function removeKnown(ctx: Context, accountId: number, id: number): Promise<KnownTracker> {
  return ctx.store.transaction(async (tx) => {
    const before = await tx.one(Row, `SELECT ${COLUMNS} FROM known_tracker WHERE id = ? FOR UPDATE`, [id]);
    if (!before) throw notFound('entry of the library');
    await tx.run('DELETE FROM known_tracker WHERE id = ?', [id]);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'library.remove',
      object: 'known tracker',
      objectId: id,
      detail: { name: before.name, purpose: before.purpose },
    });
    return plain(before);
  });
}

/** Takes in a file's entries, all or none; those that are there already are replaced. */
export async function importKnown(
  ctx: Context,
  accountId: number | null,
  entries: readonly KnownTracker[],
): Promise<{ taken: number; replaced: number }> {
  return ctx.store.transaction(async (tx) => {
    await requirePurposes(tx, entries);
    let changed = 0;
    for (let at = 0; at < entries.length; at += 500)
      changed += await insertKnown(tx, entries.slice(at, at + 500), accountId, ctx.now());
    // MariaDB counts a replaced row twice.
    const replaced = Math.max(0, changed - entries.length);
    await record(tx, ctx.now(), {
      actor: accountId ?? 'system',
      action: 'library.import',
      object: 'known tracker',
      objectId: '',
      detail: { taken: entries.length - replaced, replaced },
    });
    return { taken: entries.length - replaced, replaced };
  });
}

/** Puts entries in, replacing those that are there; how many rows MariaDB changed, a replaced one counting twice. */
export async function insertKnown(
  tx: Queries,
  entries: readonly KnownTracker[],
  by: number | null,
  at: Date,
): Promise<number> {
  const { changed } = await tx.run(
    `${INSERT} ? ON DUPLICATE KEY UPDATE provider = VALUES(provider), purpose = VALUES(purpose), lifetime = VALUES(lifetime), texts = VALUES(texts), edited_by = VALUES(edited_by), edited_at = VALUES(edited_at), revision = revision + 1`,
    [entries.map((e) => values(e, by, at))],
  );
  return changed;
}

function alreadyThere(): RefusedError {
  return new RefusedError(
    'The library has this name already.',
    [
      {
        field: 'name',
        message: 'Change the entry that is there, or give a kind or a domain that sets this one apart.',
      },
    ],
    409,
  );
}
