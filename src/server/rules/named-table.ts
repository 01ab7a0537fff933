import { z } from 'zod';
import { notFound, RefusedError } from '../../core/refusal.ts';
import { record } from '../evidence/ledger.ts';
import { JsonColumn, toDatetime } from '../store/columns.ts';
import { isDuplicate, type Queries } from '../store/pool.ts';
import type { Key } from './rule-kind.ts';

/** A table of plain objects: a name that no two share, and the content as JSON. SQL in it is written here alone. */
export interface NamedTable<T extends { readonly name: string }> {
  readonly table: string;
  /** As sentences and the ledger call one. */
  readonly object: string;
  readonly content: z.ZodType<T>;
  /** Further columns, which follow from the content. */
  readonly columns?: (content: T, now: Date) => Readonly<Record<string, string | number | null>>;
}

/** Throws a RefusedError (404). */
export async function readNamed<T extends { readonly name: string }>(
  store: Queries,
  { table, object, content }: NamedTable<T>,
  key: Key,
  lock = false,
): Promise<T> {
  const row = await store.one(
    z.object({ content: JsonColumn(content) }),
    `SELECT content FROM ${table} WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [key],
  );
  if (!row) throw notFound(object);
  return row.content;
}

/** Throws a RefusedError (409) for a name that another has. */
export async function writeNamed<T extends { readonly name: string }>(
  tx: Queries,
  { table, object, columns }: NamedTable<T>,
  key: Key,
  content: T,
  now: Date,
): Promise<void> {
  const row = { name: content.name, content: JSON.stringify(content), ...columns?.(content, now) };
  await refuseTakenName(object, () =>
    tx.run(
      `UPDATE ${table} SET ${Object.keys(row)
        .map((c) => `${c} = ?`)
        .join(', ')} WHERE id = ?`,
      [...Object.values(row), key],
    ),
  );
}

/** Adds one, with its entry in the ledger. Throws a RefusedError (409) for a name that another has. */
export async function addNamed<T extends { readonly name: string }>(
  tx: Queries,
  { table, object, columns }: NamedTable<T>,
  now: Date,
  by: number | null,
  content: T,
): Promise<number> {
  const row = {
    name: content.name,
    content: JSON.stringify(content),
    created_at: toDatetime(now),
    ...columns?.(content, now),
  };
  const { id } = await refuseTakenName(object, () =>
    tx.run(`INSERT INTO ${table} (${Object.keys(row).join(', ')}) VALUES (?)`, [Object.values(row)]),
  );
  await record(tx, now, {
    actor: by ?? 'system',
    action: `${object}.add`,
    object,
    objectId: id,
    detail: { name: content.name },
  });
  return id;
}

/** Throws a RefusedError (409) naming the field for a name that another has. */
export async function refuseTakenName<T>(object: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (!isDuplicate(error)) throw error;
    throw new RefusedError(
      `Another ${object} is called so.`,
      [{ field: 'name', message: 'Give it another name.' }],
      409,
    );
  }
}
