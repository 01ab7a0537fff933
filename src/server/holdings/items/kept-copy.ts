import { createHash } from 'node:crypto';
import { z } from 'zod';
import type { Context } from '../../context.ts';
import { openBytes, sealBytes } from '../../secret.ts';
import { Bytes, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

/** Bytes of a row; below what a server takes in one packet by default. */
const PART = 4_000_000;

/** Keeps a document as it is, sealed, until a day; its number. */
export async function keepCopy(
  tx: Queries,
  { settings, now }: Pick<Context, 'settings' | 'now'>,
  bytes: Uint8Array,
  until: Date,
): Promise<number> {
  const { id } = await tx.run('INSERT INTO kept_copy (hash, size, made_at, keep_until) VALUES (?, ?, ?, ?)', [
    sha256(bytes),
    bytes.length,
    toDatetime(now()),
    toDatetime(until),
  ]);
  for (let number = 0; number * PART < bytes.length; number++)
    await tx.run('INSERT INTO kept_copy_part (copy_id, number, content) VALUES (?, ?, ?)', [
      id,
      number,
      sealBytes(settings.SECRET_KEY, bytes.subarray(number * PART, (number + 1) * PART)),
    ]);
  return id;
}

/** `undefined` for one that was let go, or is not whole, or was sealed with another key. */
export async function readCopy(
  { store, settings }: Pick<Context, 'store' | 'settings'>,
  id: number | string,
): Promise<Uint8Array | undefined> {
  const copy = await store.one(z.object({ hash: Bytes }), 'SELECT hash FROM kept_copy WHERE id = ?', [id]);
  if (!copy) return undefined;
  const parts = await store.all(
    z.object({ content: Bytes }),
    'SELECT content FROM kept_copy_part WHERE copy_id = ? ORDER BY number',
    [id],
  );
  try {
    const bytes = Buffer.concat(parts.map((p) => openBytes(settings.SECRET_KEY, p.content)));
    return sha256(bytes).equals(copy.hash) ? bytes : undefined;
  } catch {
    return undefined;
  }
}

export async function removeCopy(tx: Queries, id: number | string): Promise<void> {
  await tx.run('DELETE FROM kept_copy WHERE id = ?', [id]);
}

/** Lets go of copies whose day has come, a few at a time. */
export async function dropOldCopies(ctx: Context): Promise<void> {
  for (let gone = 50; gone === 50;)
    gone = (
      await ctx.store.run('DELETE FROM kept_copy WHERE keep_until < ? LIMIT 50', [toDatetime(ctx.now())])
    ).changed;
}

export function sha256(bytes: Uint8Array): Buffer {
  return createHash('sha256').update(bytes).digest();
}
