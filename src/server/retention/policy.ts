import { z } from 'zod';
import { RetentionPolicy, retentionPolicyVocabulary } from '../../core/retention/rules/retention-policy.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import { findSource } from '../holdings/offers.ts';
import type { PlainKind } from '../rules/plain-object.ts';
import { JsonColumn } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { retentionNames } from './retention-names.ts';

const KEY = 1;

/** Where days are told, and when two people agree; there is one. */
export const RETENTION_POLICY: PlainKind<RetentionPolicy> = {
  object: 'retention policy',
  content: RetentionPolicy,
  vocabulary: async (store) => retentionPolicyVocabulary(await retentionNames(store)),
  read: async (store, key, lock) => {
    if (Number(key) !== KEY) throw notFound('retention policy');
    return readRetentionPolicy(store, lock);
  },
  write: async (tx, _key, content) => {
    await requireArchive(tx, content.archive);
    await tx.run('UPDATE retention_policy SET content = ? WHERE id = ?', [JSON.stringify(content), KEY]);
  },
};

/** Throws a RefusedError for a source that takes in nothing that it did not have. */
async function requireArchive(tx: Queries, archive: string): Promise<void> {
  if (archive === '') return;
  const { address } = await findSource(tx, archive);
  if (address.kind === 'folder' || address.kind === 'object store') return;
  throw new RefusedError('This source cannot be the archive.', [
    { field: 'archive', message: 'Choose a folder or an object store.' },
  ]);
}

export async function readRetentionPolicy(store: Queries, lock = false): Promise<RetentionPolicy> {
  const row = await store.one(
    z.object({ content: JsonColumn(RetentionPolicy) }),
    `SELECT content FROM retention_policy WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [KEY],
  );
  if (!row) throw notFound('retention policy');
  return row.content;
}

/**
 * Held in share by whoever lets an item go, from the last look at what keeps it until it is gone; and alone by whoever
 * places a hold or makes an exception: each sees what the other did, or waits for it.
 */
export async function guardItems(tx: Queries, how: 'let go' | 'keep'): Promise<void> {
  await tx.one(
    z.object({ id: z.number() }),
    `SELECT id FROM retention_policy WHERE id = ${KEY} ${how === 'let go' ? 'LOCK IN SHARE MODE' : 'FOR UPDATE'}`,
  );
}
