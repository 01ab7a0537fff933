import { z } from 'zod';
import type { Json } from '../../core/rules/change.ts';
import { LEDGER_LIST } from '../../core/evidence/ledger-list.ts';
import {
  entryLeaf,
  type EntryProof,
  type LedgerEntry,
  type LedgerLine,
  type LedgerTree,
} from '../../core/evidence/ledger.ts';
import {
  auditPaths,
  chainHead,
  FIRST_HEAD,
  inclusionPath,
  toHex,
  type Hash,
} from '../../core/evidence/merkle.ts';
import { BigId, Bytes, Count, Instant, JsonColumn, toDatetime } from '../store/columns.ts';
import { noteChange, tokenAtWork } from './changes-made.ts';
import { listPage, type ListSource, type WishInput } from '../lists/list-source.ts';
import type { Page } from '../store/page.ts';
import type { Queries, Store } from '../store/pool.ts';

export type Actor = number | 'visitor' | 'worker' | 'system';

export interface NewEntry {
  readonly actor: Actor;
  readonly action: string;
  readonly object: string;
  readonly objectId: string | number;
  readonly detail: Json;
}

/** Writes an entry in the caller's transaction and returns its id. No personal data belongs in `detail`. */
export async function record(tx: Queries, at: Date, entry: NewEntry): Promise<number> {
  noteChange({ object: entry.object, id: String(entry.objectId) });
  const { id } = await tx.run(
    'INSERT INTO ledger_entry (at, actor, action, object, object_id, detail) VALUES (?, ?, ?, ?, ?, ?)',
    [
      toDatetime(at),
      String(entry.actor),
      entry.action,
      entry.object,
      String(entry.objectId),
      JSON.stringify(detailOf(entry)),
    ],
  );
  return id;
}

/** With the token, where a program did it for somebody. */
function detailOf({ detail }: NewEntry): Json {
  const token = tokenAtWork();
  if (token === undefined || typeof detail !== 'object' || detail === null || Array.isArray(detail))
    return detail;
  return { ...detail, token };
}

/** Writes entries of one time in the caller's transaction, in this order. */
export async function recordAll(tx: Queries, at: Date, entries: readonly NewEntry[]): Promise<void> {
  for (const e of entries) noteChange({ object: e.object, id: String(e.objectId) });
  for (let from = 0; from < entries.length; from += TOGETHER)
    await tx.run('INSERT INTO ledger_entry (at, actor, action, object, object_id, detail) VALUES ?', [
      entries
        .slice(from, from + TOGETHER)
        .map((e) => [
          toDatetime(at),
          String(e.actor),
          e.action,
          e.object,
          String(e.objectId),
          JSON.stringify(detailOf(e)),
        ]),
    ]);
}

/** The same, with the ids of the entries by what they are about: each about something of its own. At most 500. */
export async function recordMany(
  tx: Queries,
  at: Date,
  entries: readonly NewEntry[],
): Promise<ReadonlyMap<string, number>> {
  const [first] = entries;
  if (entries.length === 1 && first) return new Map([[String(first.objectId), await record(tx, at, first)]]);
  await recordAll(tx, at, entries);
  const rows = await tx.all(
    z.object({ id: z.coerce.number(), object_id: z.string() }),
    'SELECT id, object_id FROM ledger_entry WHERE id >= LAST_INSERT_ID() AND object_id IN (?)',
    [entries.map((e) => String(e.objectId))],
  );
  return new Map(rows.map((r) => [r.object_id, r.id]));
}

const TOGETHER = 500;

/** The most entries one tree seals; what is over waits for the next. */
const TREE_SIZE = 50_000;

const Columns = z.object({
  id: BigId,
  at: Instant,
  actor: z.string(),
  action: z.string(),
  object: z.string(),
  object_id: z.string(),
  detail: JsonColumn(z.json()),
});
const Row = Columns.transform(toEntry);

function toEntry({ object_id, ...rest }: z.infer<typeof Columns>): LedgerEntry {
  return { ...rest, objectId: object_id };
}

const COLUMNS = 'id, at, actor, action, object, object_id, detail';

const TreeRow = z
  .object({ number: Count, size: z.number(), sealed_at: Instant, root: Bytes, previous: Bytes, head: Bytes })
  .transform(({ sealed_at, root, previous, head, ...rest }): LedgerTree => ({
    ...rest,
    sealedAt: sealed_at,
    root: toHex(root),
    previous: toHex(previous),
    head: toHex(head),
  }));
const TREE_COLUMNS = 'number, size, sealed_at, root, previous, head';

/**
 * Seals what is unsealed into the next tree. Safe for many sealers at once: the last head is locked, and a tree's
 * number is its primary key. An entry whose transaction ends late is sealed by a later tree, so order is by tree and
 * then by place. Returns `undefined` when there was nothing to seal.
 */
export async function seal(store: Store, at: Date): Promise<LedgerTree | undefined> {
  return store.transaction(async (tx) => {
    const last = await tx.one(
      z.object({ number: Count, head: Bytes, total: Count }),
      'SELECT number, head, total FROM ledger_tree ORDER BY number DESC LIMIT 1 FOR UPDATE',
    );
    const entries = await tx.all(
      Row,
      `SELECT ${COLUMNS} FROM ledger_entry WHERE tree IS NULL ORDER BY id LIMIT ${TREE_SIZE} FOR UPDATE SKIP LOCKED`,
    );
    if (entries.length === 0) return undefined;
    const { root, paths } = auditPaths(entries.map(entryLeaf));
    const previous = last?.head ?? FIRST_HEAD;
    const number = (last?.number ?? 0) + 1;
    const sealedAt = at.toISOString();
    const head = chainHead(previous, { number, size: entries.length, root, sealedAt });
    await tx.run(`INSERT INTO ledger_tree (${TREE_COLUMNS}, total) VALUES (?, ?, ?, ?, ?, ?, ?)`, [
      number,
      entries.length,
      toDatetime(at),
      Buffer.from(root),
      Buffer.from(previous),
      Buffer.from(head),
      (last?.total ?? 0) + entries.length,
    ]);
    for (let from = 0; from < entries.length; from += 500) {
      const part = entries.slice(from, from + 500);
      const places = part.map((e, i) => `WHEN ${BigInt(e.id)} THEN ${from + i}`).join(' ');
      const proofs = part.map((e) => `WHEN ${BigInt(e.id)} THEN ?`).join(' ');
      await tx.run(
        `UPDATE ledger_entry SET tree = ?, tree_index = CASE id ${places} END, audit_path = CASE id ${proofs} END WHERE id IN (?)`,
        [number, ...part.map((_, i) => packPath(paths[from + i] ?? [])), part.map((e) => e.id)],
      );
    }
    return {
      number,
      size: entries.length,
      sealedAt,
      root: toHex(root),
      previous: toHex(previous),
      head: toHex(head),
    };
  });
}

/** What a tree sealed, from a place in it on, at most so many; `undefined` where there is no such tree. */
export async function sealedEntries(
  store: Queries,
  tree: number,
  from: number,
  most: number,
): Promise<{ readonly entries: readonly LedgerEntry[]; readonly size: number } | undefined> {
  const found = await store.one(z.object({ size: Count }), 'SELECT size FROM ledger_tree WHERE number = ?', [
    tree,
  ]);
  if (!found) return undefined;
  const entries = await store.all(
    Row,
    `SELECT ${COLUMNS} FROM ledger_entry WHERE tree = ? AND tree_index >= ? ORDER BY tree_index LIMIT ?`,
    [tree, from, most],
  );
  return { entries, size: found.size };
}

/** The hashes of an audit path as they are kept: one behind the other. */
export function packPath(path: readonly Hash[]): Buffer {
  return Buffer.concat(path);
}

function unpackPath(bytes: Buffer): string[] {
  return bytes.toString('hex').match(/.{64}/g) ?? [];
}

const Listed = Columns.extend({ tree: z.number().nullable(), name: z.string().nullable() }).transform(
  ({ object_id, name, ...rest }) => ({ ...rest, objectId: object_id, actorName: name }),
);
export type ListedEntry = z.infer<typeof Listed>;

const SOURCE: ListSource<ListedEntry> = {
  list: LEDGER_LIST,
  select: 'e.id, e.at, e.actor, e.action, e.object, e.object_id, e.detail, e.tree, a.name',
  from: ({ filters }) =>
    `ledger_entry e FORCE INDEX (${indexFor(filters)}) LEFT JOIN account a ON a.id = CAST(e.actor AS UNSIGNED)`,
  row: Listed,
  id: 'e.id',
  sorts: { at: 'e.at' },
  filters: {
    action: (where, action) => where.and('e.action = ?', action),
    object: (where, object) => where.and('e.object = ?', object),
    objectId: (where, id) => where.and('e.object_id = ?', id),
    actor: (where, actor) => where.and('e.actor = ?', actor),
    from: (where, day) => where.and('e.at >= ?', day),
    to: (where, day) => where.and('e.at < ? + INTERVAL 1 DAY', day),
  },
};

/** Newest first. */
export function listEntries(
  store: Queries,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<ListedEntry>> {
  return listPage(store, SOURCE, wish, { after, size });
}

/** The one that gives its rows in order; what the server guesses of a table that grows all the time is not to be trusted. */
function indexFor({ object, objectId, action, actor }: Readonly<Record<string, string>>): string {
  if (object && objectId) return 'by_object';
  if (action) return 'by_action';
  if (actor) return 'by_actor';
  return 'by_time';
}

export interface LedgerState {
  readonly entries: number;
  readonly unsealed: number;
  readonly trees: number;
  readonly head: string | null;
  readonly sealedAt: string | null;
}

/** When something was sealed last, and whether something waits for it. */
export async function sealing(store: Queries): Promise<{ sealedAt: string | null; unsealed: boolean }> {
  const row = await store.one(
    z.object({ sealed_at: Instant.nullable(), unsealed: Count }),
    `SELECT (SELECT sealed_at FROM ledger_tree ORDER BY number DESC LIMIT 1) AS sealed_at,
       EXISTS (SELECT 1 FROM ledger_entry WHERE tree IS NULL) AS unsealed`,
  );
  return { sealedAt: row?.sealed_at ?? null, unsealed: (row?.unsealed ?? 0) > 0 };
}

export async function ledgerState(store: Queries): Promise<LedgerState> {
  const waiting = await store.one(
    z.object({ n: Count }),
    'SELECT COUNT(*) AS n FROM ledger_entry WHERE tree IS NULL',
  );
  const total = await store.one(
    z.object({ total: Count }),
    'SELECT total FROM ledger_tree ORDER BY number DESC LIMIT 1',
  );
  const last = await lastTree(store);
  const unsealed = waiting?.n ?? 0;
  return {
    entries: (total?.total ?? 0) + unsealed,
    unsealed,
    trees: last?.number ?? 0,
    head: last?.head ?? null,
    sealedAt: last?.sealedAt ?? null,
  };
}

/** The actions that occur, for the filter. */
export async function ledgerActions(store: Queries): Promise<readonly string[]> {
  const rows = await store.all(
    z.object({ action: z.string() }),
    'SELECT DISTINCT action FROM ledger_entry ORDER BY action',
  );
  return rows.map((r) => r.action);
}

/** `undefined` where there is none. */
export async function findEntry(store: Queries, id: string): Promise<LedgerEntry | undefined> {
  return store.one(Row, `SELECT ${COLUMNS} FROM ledger_entry WHERE id = ?`, [id]);
}

/** The proof of one entry; `undefined` while it is unsealed or where there is none. */
export async function proveEntry(store: Queries, id: string): Promise<EntryProof | undefined> {
  const found = await store.one(
    Columns.extend({
      tree: z.number().nullable(),
      tree_index: z.number().nullable(),
      audit_path: Bytes.nullable(),
    }),
    `SELECT ${COLUMNS}, tree, tree_index, audit_path FROM ledger_entry WHERE id = ?`,
    [id],
  );
  if (!found || found.tree === null || found.tree_index === null) return undefined;
  const { tree: number, tree_index: index, audit_path, ...columns } = found;
  const tree = await findTree(store, number);
  if (!tree) return undefined;
  const path = audit_path ? unpackPath(audit_path) : await pathByTree(store, number, index);
  return path && { entry: toEntry(columns), tree, index, path };
}
/** Of an entry that was sealed before paths were kept. */
async function pathByTree(store: Queries, tree: number, index: number): Promise<string[] | undefined> {
  const entries = await entriesOf(store, tree);
  return index < entries.length ? inclusionPath(entries.map(entryLeaf), index).map(toHex) : undefined;
}

/** The entries that a tree seals, in their places. */
function entriesOf(store: Queries, tree: number): Promise<LedgerEntry[]> {
  return store.all(Row, `SELECT ${COLUMNS} FROM ledger_entry WHERE tree = ? ORDER BY tree_index`, [tree]);
}

/** An entry in the place where it was sealed. */
export interface SealedEntry extends LedgerEntry {
  readonly tree: number;
  readonly treeIndex: number;
}

/** Sealed entries behind a place, in order: no later one ever comes before them. */
export function sealedAfter(
  store: Queries,
  tree: number,
  index: number,
  most: number,
): Promise<readonly SealedEntry[]> {
  return store.all(
    Columns.extend({ tree: Count, tree_index: z.number() }).transform(
      ({ tree: at, tree_index, ...entry }): SealedEntry => ({
        ...toEntry(entry),
        tree: at,
        treeIndex: tree_index,
      }),
    ),
    `SELECT ${COLUMNS}, tree, tree_index FROM ledger_entry WHERE tree >= ? AND (tree > ? OR tree_index > ?) ORDER BY tree, tree_index LIMIT ?`,
    [tree, tree, index, most],
  );
}

/** The last sealed tree; `undefined` before the first. */
export async function lastTree(store: Queries): Promise<LedgerTree | undefined> {
  return store.one(TreeRow, `SELECT ${TREE_COLUMNS} FROM ledger_tree ORDER BY number DESC LIMIT 1`);
}

export async function findTree(store: Queries, number: number): Promise<LedgerTree | undefined> {
  return store.one(TreeRow, `SELECT ${TREE_COLUMNS} FROM ledger_tree WHERE number = ?`, [number]);
}

/**
 * The whole sealed ledger, a line at a time, in memory of one tree. The closing line tells what the database itself says
 * there is, so that a row that is gone is missed.
 */
export async function* exportLedger(store: Queries, at: Date): AsyncGenerator<LedgerLine> {
  yield { line: 'ledger', format: 2, exportedAt: at.toISOString() };
  // One statement, so that all of it is of the same moment.
  const said = await store.one(
    z.object({ trees: Count, entries: Count, head: Bytes.nullable() }),
    `SELECT (SELECT MAX(number) FROM ledger_tree) AS trees,
       (SELECT COUNT(*) FROM ledger_entry WHERE tree IS NOT NULL) AS entries,
       (SELECT head FROM ledger_tree ORDER BY number DESC LIMIT 1) AS head`,
  );
  const trees = said?.trees ?? 0;
  for (let number = 0; ;) {
    const tree = await store.one(
      TreeRow,
      `SELECT ${TREE_COLUMNS} FROM ledger_tree WHERE number > ? AND number <= ? ORDER BY number LIMIT 1`,
      [number, trees],
    );
    if (!tree) break;
    yield { line: 'tree', ...tree };
    for (const entry of await entriesOf(store, tree.number)) yield { line: 'entry', ...entry };
    ({ number } = tree);
  }
  yield { line: 'end', trees, entries: said?.entries ?? 0, head: toHex(said?.head ?? FIRST_HEAD) };
}
