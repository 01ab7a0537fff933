import { createHash } from 'node:crypto';
import { z } from 'zod';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { attachment } from '../../http/attachment.ts';
import { openBytes, sealBytes } from '../../secret.ts';
import { Bytes, Count, Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

/** Bytes of one file, and how many one dossier has. */
export const MOST_FILE = 8_000_000;
const MOST_FILES = 60;

export interface DossierFile {
  readonly id: number;
  /** `contract`, or the question that it belongs to. */
  readonly what: string;
  readonly name: string;
  readonly size: number;
  readonly hash: string;
  readonly at: string;
}

export interface NewFile {
  readonly what: string;
  readonly name: string;
  readonly bytes: Uint8Array;
  /** What was read in it, as JSON. */
  readonly found?: string;
}

/** Keeps a file, sealed. Throws a RefusedError: (413) for one that is too large, (409) for one too many. */
export async function keepFile(
  tx: Queries,
  { now, settings }: Pick<Context, 'now' | 'settings'>,
  of: { readonly object: string; readonly id: number },
  { what, name, bytes, found }: NewFile,
  by: number | null,
): Promise<{ readonly id: number; readonly hash: string }> {
  if (bytes.length > MOST_FILE)
    throw new RefusedError(
      'The file is too large.',
      [{ field: what, message: `At most ${MOST_FILE / 1e6} MB.` }],
      413,
    );
  const kept = await tx.one(
    z.object({ n: Count }),
    'SELECT COUNT(*) AS n FROM dossier_file WHERE object = ? AND object_id = ?',
    [of.object, of.id],
  );
  if ((kept?.n ?? 0) >= MOST_FILES)
    throw new RefusedError(
      'There are too many files.',
      [{ field: what, message: `At most ${MOST_FILES}.` }],
      409,
    );
  const hash = createHash('sha256').update(bytes).digest();
  const { id } = await tx.run(
    'INSERT INTO dossier_file (object, object_id, what, name, size, hash, content, found, at, by_account) VALUES (?)',
    [
      [
        ...[
          of.object,
          of.id,
          what,
          plainName(name),
          bytes.length,
          hash,
          sealBytes(settings.SECRET_KEY, bytes),
        ],
        ...[found ?? null, toDatetime(now()), by],
      ],
    ],
  );
  return { id, hash: hash.toString('hex') };
}

/** The last step of a path, without what steers a terminal or a header. */
function plainName(name: string): string {
  const last = name.split(/[\\/]/).at(-1) ?? '';
  return (
    last
      .replace(/[\p{C}"]/gu, '')
      .trim()
      .slice(0, 200) || 'file'
  );
}

export function filesOf(store: Queries, object: string, id: number): Promise<readonly DossierFile[]> {
  return store.all(
    z.object({
      ...{ id: z.number(), what: z.string(), name: z.string(), size: z.number() },
      ...{ hash: Bytes.transform((b) => b.toString('hex')), at: Instant },
    }),
    'SELECT id, what, name, size, hash, at FROM dossier_file WHERE object = ? AND object_id = ? ORDER BY id DESC LIMIT 200',
    [object, id],
  );
}

/** A file as it was sent, to be saved and never shown as a page. Throws a RefusedError (404). */
export async function sendFile(
  { store, settings }: Pick<Context, 'store' | 'settings'>,
  object: string,
  id: number,
  file: number,
): Promise<Response> {
  const row = await store.one(
    z.object({ name: z.string(), content: Bytes }),
    'SELECT name, content FROM dossier_file WHERE id = ? AND object = ? AND object_id = ?',
    [file, object, id],
  );
  if (!row) throw notFound('file');
  return attachment(row.name, 'application/octet-stream', openBytes(settings.SECRET_KEY, row.content));
}
