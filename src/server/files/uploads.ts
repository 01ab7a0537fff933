import { z } from 'zod';
import { notFound, RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { openText, sealText } from '../secret.ts';
import { Count, Instant, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

/** Bytes of a whole file, and of each of its parts but the last. */
export const MOST_UPLOAD = 256e6;
export const UPLOAD_PART = 1_000_000;
/** Bytes that wait to be read, of one person and of all. */
const MOST_EACH = 1000e6;
const MOST_IN_ALL = 8000e6;
const KEPT_MS = 24 * 3600_000;

/** Begins taking a file in, part by part. It is kept encrypted until something has read it, a day at the most. */
export async function beginUpload(
  ctx: Context,
  accountId: number,
  name: string,
  size: number,
): Promise<{ id: number }> {
  return ctx.store.transaction(async (tx) => {
    // One at a time for each person, so that two at once do not both find room.
    await tx.all(z.object({ id: z.number() }), 'SELECT id FROM account WHERE id = ? FOR UPDATE', [accountId]);
    const kept = await tx.one(
      z.object({ mine: Count, everyones: Count }),
      'SELECT SUM(IF(owner = ?, size, 0)) AS mine, SUM(size) AS everyones FROM upload',
      [accountId],
    );
    for (const [bytes, most, whose] of [
      [kept?.mine ?? 0, MOST_EACH, 'You have'],
      [kept?.everyones ?? 0, MOST_IN_ALL, 'All together have'],
    ] as const)
      if (bytes + size > most)
        throw new RefusedError(
          `${whose} sent ${Math.round(bytes / 1e6)} MB that are still to be read; with this file it would be more than ${most / 1e6} MB.`,
          [{ field: 'size', message: 'Use or leave what was sent; files that nobody uses go after a day.' }],
          429,
        );
    const { id } = await tx.run('INSERT INTO upload (name, size, owner, begun_at) VALUES (?, ?, ?, ?)', [
      name,
      size,
      accountId,
      toDatetime(ctx.now()),
    ]);
    return { id };
  });
}

export async function takePart(
  ctx: Context,
  accountId: number,
  id: number,
  part: number,
  base64: string,
): Promise<void> {
  const upload = await findUpload(ctx.store, accountId, id);
  const bytes = Buffer.from(base64, 'base64');
  if (part * UPLOAD_PART + bytes.length > upload.size || bytes.length > UPLOAD_PART)
    throw new RefusedError('This part does not belong to the file.', [
      { field: 'base64', message: `Send ${UPLOAD_PART} bytes at a time, ${upload.size} in all.` },
    ]);
  await ctx.store.run('REPLACE INTO upload_part (upload_id, part, body) VALUES (?, ?, ?)', [
    id,
    part,
    Buffer.from(sealText(ctx.settings.SECRET_KEY, base64)),
  ]);
}

/** The whole file. Throws a RefusedError while a part is missing. */
export async function readUpload(
  ctx: Context,
  accountId: number,
  id: number,
): Promise<{ readonly name: string; readonly bytes: Buffer }> {
  const upload = await findUpload(ctx.store, accountId, id);
  const parts: Buffer[] = [];
  for (let part = 0; part * UPLOAD_PART < upload.size; part++) {
    const row = await ctx.store.one(
      z.object({ body: z.instanceof(Buffer) }),
      'SELECT body FROM upload_part WHERE upload_id = ? AND part = ?',
      [id, part],
    );
    if (!row) throw new RefusedError(`The file “${upload.name}” has not arrived whole. Choose it again.`);
    parts.push(Buffer.from(openText(ctx.settings.SECRET_KEY, row.body.toString()), 'base64'));
  }
  return { name: upload.name, bytes: Buffer.concat(parts) };
}

export async function dropUpload(store: Queries, id: number): Promise<void> {
  await store.run('DELETE FROM upload WHERE id = ?', [id]);
}

export async function forgetOldUploads(ctx: Context): Promise<void> {
  await ctx.store.run('DELETE FROM upload WHERE begun_at < ?', [
    toDatetime(new Date(ctx.now().getTime() - KEPT_MS)),
  ]);
}

async function findUpload(store: Queries, accountId: number, id: number) {
  const row = await store.one(
    z.object({ name: z.string(), size: z.number(), owner: z.number(), begun_at: Instant }),
    'SELECT name, size, owner, begun_at FROM upload WHERE id = ? AND owner = ?',
    [id, accountId],
  );
  if (!row) throw notFound('file');
  return row;
}
