import { createHash } from 'node:crypto';
import canonicalize from 'canonicalize';
import { z } from 'zod';
import { FrameworkFile } from '../../../core/obligations/framework/framework-file.ts';
import { Bytes, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { FrameworkLibrary } from './framework-library.ts';
import { shippedLibrary } from './shipped-library.ts';

const Latest = z.object({ framework: z.string(), version: z.string(), hash: Bytes });

/** The row of each version that counts. */
const LATEST = `FROM own_framework o WHERE removed_at IS NULL AND NOT EXISTS
  (SELECT 1 FROM own_framework n WHERE n.framework = o.framework AND n.version = o.version AND n.id > o.id AND n.removed_at IS NULL)`;

let kept: { readonly print: string; readonly library: FrameworkLibrary } | undefined;

/** All frameworks and measures as they are now. Files are read again only where one changed. */
export async function frameworkLibrary(store: Queries, lock = false): Promise<FrameworkLibrary> {
  // Whoever goes on to change them comes after whoever does so already.
  if (lock) await store.all(z.object({ id: z.number() }), 'SELECT id FROM own_framework FOR UPDATE');
  const rows = await store.all(
    Latest,
    `SELECT framework, DATE_FORMAT(version, '%Y-%m-%d') AS version, hash ${LATEST} ORDER BY framework, version`,
  );
  if (rows.length === 0) return shippedLibrary();
  const print = rows.map((r) => `${r.framework} ${r.version} ${r.hash.toString('hex')}`).join('\n');
  if (kept?.print === print) return kept.library;
  const files = await store.all(
    z.object({ content: JsonColumn(FrameworkFile) }),
    `SELECT content ${LATEST} ORDER BY framework, version`,
  );
  const library = new FrameworkLibrary(
    shippedLibrary().shipped,
    files.map((f) => f.content),
  );
  kept = { print, library };
  return library;
}

/** SHA-256 of the canonical JSON (RFC 8785) of a file, in hexadecimal. */
export function hashOf(file: FrameworkFile): string {
  return createHash('sha256')
    .update(canonicalize(file) ?? '')
    .digest('hex');
}

export async function keepOwnFramework(
  tx: Queries,
  now: Date,
  by: number | null,
  file: FrameworkFile,
): Promise<number> {
  const { id } = await tx.run(
    'INSERT INTO own_framework (framework, version, content, hash, taken_by, taken_at) VALUES (?, ?, ?, ?, ?, ?)',
    [file.id, file.version, JSON.stringify(file), Buffer.from(hashOf(file), 'hex'), by, toDatetime(now)],
  );
  return id;
}

/** When a framework was taken in, by whom; the latest first. */
export interface Taken {
  readonly id: number;
  readonly version: string;
  readonly hash: string;
  readonly at: string;
  readonly by: string | null;
  readonly removed: boolean;
}

export async function takenOf(store: Queries, framework: string): Promise<readonly Taken[]> {
  const rows = await store.all(
    z.object({
      ...{ id: z.number(), version: z.string(), hash: Bytes, at: Instant, by: z.string().nullable() },
      removed: z.number(),
    }),
    `SELECT o.id, DATE_FORMAT(o.version, '%Y-%m-%d') AS version, o.hash, o.taken_at AS at, a.name AS \`by\`, o.removed_at IS NOT NULL AS removed
     FROM own_framework o LEFT JOIN account a ON a.id = o.taken_by WHERE o.framework = ? ORDER BY o.id DESC LIMIT 200`,
    [framework],
  );
  return rows.map(({ hash, removed, ...r }) => ({
    ...r,
    hash: hash.toString('hex'),
    removed: removed === 1,
  }));
}
