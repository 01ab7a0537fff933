import { createHash } from 'node:crypto';
import { z } from 'zod';
import { RefusedError, notFound } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import { record } from '../../../evidence/ledger.ts';
import { openText, sealText } from '../../../secret.ts';
import { BigId, Bytes, Count, Instant, toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { dropUpload, readUpload } from '../../../files/uploads.ts';
import { TookTooLong } from '../threads/detection-threads.ts';
import { detectorPool } from '../threads/shared-threads.ts';
import { LIMITS } from '../../../files/extract/extracted.ts';

export const TEXT_ROLES = ['template', 'example', 'counter-example'] as const;
export type TextRole = (typeof TEXT_ROLES)[number];

const EXTRACT_MS = 20_000;
const MOST_UNITS = 400_000;
export const MOST_EXAMPLES = 5000;

export interface ListedText {
  readonly id: string;
  readonly role: TextRole;
  readonly name: string;
  readonly digest: string;
  readonly units: number;
  readonly origin: 'file' | 'verdict';
  /** What a model that had not seen it gave it, at the last training. */
  readonly score: number | null;
  readonly addedAt: string;
}

const Row = z.object({
  id: BigId,
  role: z.enum(TEXT_ROLES),
  name: z.string(),
  digest: Bytes,
  units: z.number(),
  origin: z.enum(['file', 'verdict']),
  score: z.number().nullable(),
  added_at: Instant,
});
const COLUMNS = 'id, role, name, digest, units, origin, score, added_at';

export async function listTexts(store: Queries, detector: string): Promise<readonly ListedText[]> {
  const rows = await store.all(
    Row,
    `SELECT ${COLUMNS} FROM detector_text WHERE detector_id = ? ORDER BY id LIMIT ?`,
    [detector, MOST_EXAMPLES],
  );
  return rows.map(({ digest, added_at, ...r }) => ({
    ...r,
    digest: digest.toString('hex'),
    addedAt: added_at,
  }));
}

export interface OpenText {
  readonly id: string;
  readonly name: string;
  readonly role: TextRole;
  readonly text: string;
}

const BodyRow = z.object({
  id: BigId,
  name: z.string(),
  role: z.enum(TEXT_ROLES),
  body: z.string(),
});

export async function readText(ctx: Context, detector: string, id: string): Promise<OpenText> {
  const row = await ctx.store.one(
    BodyRow,
    'SELECT id, name, role, body FROM detector_text WHERE detector_id = ? AND id = ?',
    [detector, id],
  );
  if (!row) throw notFound('text');
  const { body, ...rest } = row;
  return { ...rest, text: openText(ctx.settings.SECRET_KEY, body) };
}

/** Every text of some roles, opened. */
export async function readTexts(
  ctx: Context,
  detector: string,
  roles: readonly TextRole[],
): Promise<readonly OpenText[]> {
  const rows = await ctx.store.all(
    BodyRow,
    'SELECT id, name, role, body FROM detector_text WHERE detector_id = ? AND role IN (?) ORDER BY id LIMIT ?',
    [detector, roles, MOST_EXAMPLES],
  );
  return rows.map(({ body, ...rest }) => ({ ...rest, text: openText(ctx.settings.SECRET_KEY, body) }));
}

/** The blank documents of a detector with these digests, in their order; never its examples, which hold personal data. */
export async function readTemplates(
  ctx: Context,
  detector: string,
  digests: readonly string[],
): Promise<readonly (OpenText | undefined)[]> {
  if (digests.length === 0) return [];
  const rows = await ctx.store.all(
    BodyRow.extend({ digest: Bytes }),
    "SELECT id, name, role, body, digest FROM detector_text WHERE detector_id = ? AND role = 'template' AND digest IN (?)",
    [detector, digests.map((d) => Buffer.from(d, 'hex'))],
  );
  return digests.map((d) => {
    const row = rows.find((r) => r.digest.toString('hex') === d);
    return (
      row && { id: row.id, name: row.name, role: row.role, text: openText(ctx.settings.SECRET_KEY, row.body) }
    );
  });
}

export type TextInput =
  | { readonly upload: number }
  | { readonly name: string; readonly text: string; readonly origin: 'file' | 'verdict' };

/**
 * Adds a text to what a detector is made from; one that is there already takes the new role. Throws a RefusedError
 * where a file holds no text, saying why.
 */
export async function addText(
  ctx: Context,
  accountId: number,
  detector: string,
  role: TextRole,
  input: TextInput,
): Promise<{ readonly name: string; readonly digest: string; readonly was: TextRole | 'new' }> {
  const { name, text } =
    'upload' in input
      ? await extractUpload(ctx, accountId, input.upload)
      : { name: input.name, text: input.text };
  const digest = createHash('sha256').update(text).digest();
  return ctx.store.transaction(async (tx) => {
    const { n } = (await tx.one(
      z.object({ n: Count }),
      'SELECT COUNT(*) AS n FROM detector_text WHERE detector_id = ? FOR UPDATE',
      [detector],
    )) ?? { n: 0 };
    if (n >= MOST_EXAMPLES)
      throw new RefusedError(`There are ${n} texts already.`, [
        { field: 'upload', message: 'Take some out before adding more.' },
      ]);
    const there = await tx.one(
      z.object({ role: z.enum(TEXT_ROLES) }),
      'SELECT role FROM detector_text WHERE detector_id = ? AND digest = ?',
      [detector, digest],
    );
    await insertText(
      tx,
      ctx,
      accountId,
      detector,
      role,
      { name, text },
      'upload' in input ? 'file' : input.origin,
    );
    if (there?.role !== role)
      await record(tx, ctx.now(), {
        actor: accountId,
        action: 'detector.text',
        object: 'detector',
        objectId: detector,
        detail: { digest: digest.toString('hex'), role, ...(there ? { was: there.role } : {}) },
      });
    return { name, digest: digest.toString('hex'), was: there?.role ?? 'new' };
  });
}

export async function insertText(
  tx: Queries,
  ctx: Context,
  accountId: number,
  detector: string,
  role: TextRole,
  { name, text }: { readonly name: string; readonly text: string },
  origin: 'file' | 'verdict',
  at = ctx.now(),
): Promise<string> {
  const digest = createHash('sha256').update(text).digest();
  await tx.run(
    'INSERT INTO detector_text (detector_id, role, name, body, digest, units, origin, added_by, added_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE role = VALUES(role), origin = VALUES(origin)',
    [
      detector,
      role,
      name.slice(0, 260),
      sealText(ctx.settings.SECRET_KEY, text),
      digest,
      text.length,
      origin,
      accountId,
      toDatetime(at),
    ],
  );
  return digest.toString('hex');
}

export async function removeText(
  ctx: Context,
  accountId: number,
  detector: string,
  id: string,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run('DELETE FROM detector_text WHERE detector_id = ? AND id = ?', [
      detector,
      id,
    ]);
    if (changed === 0) throw notFound('text');
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'detector.text-out',
      object: 'detector',
      objectId: detector,
      detail: { text: id },
    });
  });
}

/** The text of a file that was sent, which is then let go. */
export async function extractUpload(
  ctx: Context,
  accountId: number,
  upload: number,
): Promise<{ readonly name: string; readonly text: string }> {
  const { name, bytes } = await readUpload(ctx, accountId, upload);
  try {
    const { text, problems } = await detectorPool().run(
      { what: 'text', bytes, name, most: MOST_UNITS, limits: LIMITS },
      EXTRACT_MS,
    );
    if (text.trim() === '')
      throw new RefusedError(`“${name}” cannot be used.`, [
        { field: 'upload', message: `${problems[0]?.words ?? 'It holds no text'}.` },
      ]);
    return { name, text };
  } catch (error) {
    if (!(error instanceof TookTooLong)) throw error;
    throw new RefusedError(`Reading “${name}” took too long and was ended.`, [
      { field: 'upload', message: 'Give a smaller piece of it.' },
    ]);
  } finally {
    await dropUpload(ctx.store, upload);
  }
}
