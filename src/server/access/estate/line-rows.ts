import { z } from 'zod';
import type { EstateRow } from '../../../core/access/estate/estate-row.ts';
import { BigId, Bytes, Count } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const AT_ONCE = 20_000;

/** A row as it is kept; `holds` of places. */
export interface KeptRow {
  readonly row: EstateRow;
  readonly holds: string | null;
}

const Row = z.object({ id: BigId, content: z.string(), holds: z.string().nullable() });

/** All that stands, or stood at an instant, in pages. */
export async function* keptRows(
  store: Queries,
  at?: { readonly instant: string },
): AsyncGenerator<readonly KeptRow[]> {
  for (let last = '0'; ;) {
    const rows = await store.all(
      Row,
      at
        ? `SELECT id, content, holds FROM access_line WHERE since <= ? AND until > ? AND id > ? ORDER BY id LIMIT ${AT_ONCE}`
        : `SELECT id, content, holds FROM access_line FORCE INDEX (by_went) WHERE went = 0 AND id > ? ORDER BY id LIMIT ${AT_ONCE}`,
      at ? [at.instant, at.instant, last] : [last],
    );
    if (rows.length > 0) yield rows.map(keptRow);
    if (rows.length < AT_ONCE) return;
    last = rows.at(-1)?.id ?? last;
  }
}

function keptRow({ content, holds }: z.infer<typeof Row>): KeptRow {
  return { row: JSON.parse(content) as EstateRow, holds };
}

/** What came, and what went, after one revision up to another; what came and went between is in neither. */
export async function rowsBetween(
  store: Queries,
  after: number,
  upTo: number,
): Promise<{ readonly came: readonly KeptRow[]; readonly went: readonly EstateRow[] }> {
  const came = await store.all(
    Row,
    'SELECT id, content, holds FROM access_line WHERE came > ? AND came <= ? AND (went = 0 OR went > ?)',
    [after, upTo, upTo],
  );
  const went = await store.all(
    Row,
    'SELECT id, content, holds FROM access_line WHERE went > ? AND went <= ? AND came <= ?',
    [after, upTo, after],
  );
  return { came: came.map(keptRow), went: went.map((r) => keptRow(r).row) };
}

export async function revisionOf(store: Queries): Promise<number> {
  const row = await store.one(
    z.object({ revision: Count }),
    'SELECT revision FROM access_revision WHERE id = 1',
  );
  return row?.revision ?? 0;
}

/** The next revision, for a transaction that changes lines; others wait for it. */
export async function nextRevision(tx: Queries): Promise<number> {
  await tx.run('UPDATE access_revision SET revision = revision + 1 WHERE id = 1');
  return revisionOf(tx);
}

/** Digests of what stands of a source, by the key of the line in hexadecimal. */
export async function standingDigests(
  store: Queries,
  source: number,
): Promise<Map<string, { readonly id: string; readonly digest: string }>> {
  const found = new Map<string, { readonly id: string; readonly digest: string }>();
  for (let last = '0'; ;) {
    const rows = await store.all(
      z.object({ id: BigId, line_key: Bytes, digest: Bytes }),
      `SELECT id, line_key, digest FROM access_line WHERE source_id = ? AND went = 0 AND id > ? ORDER BY id LIMIT ${AT_ONCE}`,
      [source, last],
    );
    for (const r of rows)
      found.set(r.line_key.toString('hex'), { id: r.id, digest: r.digest.toString('hex') });
    if (rows.length < AT_ONCE) return found;
    last = rows.at(-1)?.id ?? last;
  }
}
