import { createHash, randomBytes } from 'node:crypto';
import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { Count, Instant, toDatetime } from '../../store/columns.ts';
import type { Store } from '../../store/pool.ts';
import { findProvider } from './providers.ts';

const DAY_MS = 86_400_000;
const USED_EVERY_MS = 60_000;
const hashOf = (token: string) => createHash('sha256').update(token).digest();

/** A token that a provider keeps accounts with, in place of one before; shown once. Throws a RefusedError (404, 409). */
export async function beginKeeping(
  ctx: Context,
  by: number,
  id: number,
  days: number,
): Promise<{ readonly token: string }> {
  const token = `ys_${randomBytes(32).toString('base64url')}`;
  const now = ctx.now();
  await ctx.store.transaction(async (tx) => {
    if ((await findProvider(tx, id)).stoppedAt !== null)
      throw new RefusedError('This provider is stopped.', [], 409);
    await tx.run(
      `UPDATE identity_provider SET scim_hash = ?, scim_made_at = ?, scim_ends_at = ?, scim_used_at = NULL WHERE id = ?`,
      [hashOf(token), toDatetime(now), toDatetime(new Date(now.getTime() + days * DAY_MS)), id],
    );
    await record(tx, now, {
      ...{ actor: by, action: 'provider.keeping', object: 'provider', objectId: id, detail: { days } },
    });
  });
  return { token };
}

/** It keeps accounts no more; those it kept stay as they are. Throws a RefusedError (409). */
export async function endKeeping(ctx: Context, by: number, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run(
      'UPDATE identity_provider SET scim_hash = NULL WHERE id = ? AND scim_hash IS NOT NULL',
      [id],
    );
    if (changed === 0) throw new RefusedError('It keeps no accounts.', [], 409);
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'provider.keeping-ended', object: 'provider', objectId: id, detail: {} },
    });
  });
}

/** Whose token this is; `undefined` where it is not in force. */
export async function keeperOf(
  store: Store,
  now: Date,
  authorization: string | null,
): Promise<{ readonly id: number; readonly name: string } | undefined> {
  const [, token] = /^Bearer (ys_[\w-]{43})$/i.exec(authorization ?? '') ?? [];
  if (token === undefined) return undefined;
  const row = await store.one(
    z.object({ id: Count, name: z.string(), scim_used_at: Instant.nullable() }),
    `SELECT id, name, scim_used_at FROM identity_provider
     WHERE scim_hash = ? AND scim_ends_at > ? AND stopped_at IS NULL`,
    [hashOf(token), toDatetime(now)],
  );
  if (!row) return undefined;
  if (row.scim_used_at === null || now.getTime() - Date.parse(row.scim_used_at) > USED_EVERY_MS)
    await store.run('UPDATE identity_provider SET scim_used_at = ? WHERE id = ?', [toDatetime(now), row.id]);
  return { id: row.id, name: row.name };
}
