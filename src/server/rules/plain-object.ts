import { z } from 'zod';
import { change, inWords, type Difference, type Json, type Vocabulary } from '../../core/rules/change.ts';
import { RefusedError } from '../../core/refusal.ts';
import { record } from '../evidence/ledger.ts';
import { Instant, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { refuseConflict, type Edit, type Saved } from './edit-conflict.ts';
import type { Key } from './rule-kind.ts';
import { withoutEdit } from './undo.ts';

/**
 * A kind of object that is no rule: it takes effect as it is saved, and has no versions. It is edited as rules are, with
 * conflicts, words, undo and ledger.
 */
export interface PlainKind<T> {
  /** As it is called in sentences and in the ledger. */
  readonly object: string;
  readonly content: z.ZodType<T>;
  vocabulary(store: Queries): Promise<Vocabulary>;
  /** As it stands, locked where `lock`; throws a RefusedError (404). */
  read(store: Queries, key: Key, lock?: boolean): Promise<T>;
  /** In the transaction that locked it. Throws a RefusedError for what will not do. */
  write(tx: Queries, key: Key, content: T, before: T, now: Date, by: number): Promise<void>;
}

export interface PlainObject<T> extends Saved<T> {
  readonly editedAt: string | null;
}

export async function readObject<T>(
  store: Queries,
  kind: PlainKind<T>,
  key: Key,
  lock = false,
): Promise<PlainObject<T>> {
  const content = await kind.read(store, key, lock);
  const row = await store.one(
    z.object({ revision: z.number(), edited_at: Instant, name: z.string().nullable() }),
    'SELECT e.revision, e.edited_at, a.name FROM object_edit e LEFT JOIN account a ON a.id = e.edited_by WHERE e.object = ? AND e.id = ?',
    [kind.object, String(key)],
  );
  return {
    content,
    revision: row?.revision ?? 0,
    editedBy: row?.name ?? null,
    editedAt: row?.edited_at ?? null,
  };
}

/** Saves an edit; see `refuseConflict` for what it throws where somebody else did meanwhile. */
export async function editObject<T>(
  tx: Queries,
  now: Date,
  kind: PlainKind<T>,
  accountId: number,
  key: Key,
  edit: Edit<T>,
): Promise<{ revision: number }> {
  const saved = await lockObject(tx, now, kind, accountId, key);
  refuseConflict(kind.object, saved, edit, await kind.vocabulary(tx));
  return writeObject(tx, now, kind, accountId, key, saved, edit.content);
}

/** Takes the edit that made `revision` out of it; see `withoutEdit` for what it throws. */
export async function undoEdit<T>(
  tx: Queries,
  now: Date,
  kind: PlainKind<T>,
  accountId: number,
  key: Key,
  revision: number,
): Promise<{ revision: number }> {
  const saved = await lockObject(tx, now, kind, accountId, key);
  const content = await withoutEdit(
    tx,
    { object: kind.object, key, revision },
    saved.content as Json,
    await kind.vocabulary(tx),
  );
  return writeObject(tx, now, kind, accountId, key, saved, kind.content.parse(content));
}

/** One editor at a time, also of what nobody edited before. */
async function lockObject<T>(
  tx: Queries,
  now: Date,
  kind: PlainKind<T>,
  accountId: number,
  key: Key,
): Promise<PlainObject<T>> {
  await kind.read(tx, key);
  await tx.run(
    'INSERT INTO object_edit (object, id, revision, edited_by, edited_at) VALUES (?, ?, 0, ?, ?) ON DUPLICATE KEY UPDATE revision = revision',
    [kind.object, String(key), accountId, toDatetime(now)],
  );
  return readObject(tx, kind, key, true);
}

async function writeObject<T>(
  tx: Queries,
  now: Date,
  kind: PlainKind<T>,
  accountId: number,
  key: Key,
  saved: PlainObject<T>,
  content: T,
): Promise<{ revision: number }> {
  const difference: readonly Difference[] = change(saved.content as Json, content as Json);
  if (difference.length === 0) return { revision: saved.revision };
  const parsed = kind.content.safeParse(content);
  if (!parsed.success)
    throw new RefusedError(
      'Some of this cannot be taken as it is.',
      parsed.error.issues.map((i) => ({ field: i.path.join('.'), message: i.message })),
    );
  await kind.write(tx, key, parsed.data, saved.content, now, accountId);
  const revision = saved.revision + 1;
  await tx.run(
    'UPDATE object_edit SET revision = ?, edited_by = ?, edited_at = ? WHERE object = ? AND id = ?',
    [revision, accountId, toDatetime(now), kind.object, String(key)],
  );
  await record(tx, now, {
    actor: accountId,
    action: `${kind.object}.edit`,
    object: kind.object,
    objectId: key,
    detail: {
      revision,
      words: inWords(difference, await kind.vocabulary(tx)),
      change: difference as unknown as Json,
    },
  });
  return { revision };
}
