import { createHash } from 'node:crypto';
import canonicalize from 'canonicalize';
import { z } from 'zod';
import type { Json } from '../../core/rules/change.ts';
import { BigId, JsonColumn } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

/** Of a part without results. */
export const EMPTY_DIGEST = Buffer.alloc(32);

/** SHA-256 over the digest before and the result in canonical JSON (RFC 8785), for each in turn. */
export function extendDigest(digest: Buffer, results: readonly Json[]): Buffer {
  return results.reduce<Buffer>(
    (before, result) =>
      createHash('sha256')
        .update(before)
        .update(canonicalize(result) ?? 'null')
        .digest(),
    digest,
  );
}

/** Of a whole run: SHA-256 over those of its parts in order. */
export function wholeDigest(parts: readonly Buffer[]): Buffer {
  return createHash('sha256').update(Buffer.concat(parts)).digest();
}

/** Reads the results again and digests them; a run that is gone is not among them. */
export async function digestsNow(
  store: Queries,
  ids: readonly string[],
): Promise<ReadonlyMap<string, string>> {
  const digests = new Map<string, string>();
  for (const id of ids) {
    const parts = await store.all(
      z.object({ run_id: BigId, position: z.number() }),
      'SELECT run_id, position FROM run_part WHERE run_id = ? ORDER BY position',
      [id],
    );
    const there = await store.one(z.object({ id: BigId }), 'SELECT id FROM run WHERE id = ?', [id]);
    if (!there) continue;
    const all: Buffer[] = [];
    for (const { position } of parts) all.push(await partDigest(store, id, position));
    digests.set(id, wholeDigest(all).toString('hex'));
  }
  return digests;
}

const TOGETHER = 2000;

async function partDigest(store: Queries, run: string, position: number): Promise<Buffer> {
  let digest: Buffer = EMPTY_DIGEST;
  for (let after = -1; ;) {
    const rows = await store.all(
      z.object({ number: z.number(), content: JsonColumn(z.json()) }),
      'SELECT number, content FROM run_result WHERE run_id = ? AND position = ? AND number > ? ORDER BY number LIMIT ?',
      [run, position, after, TOGETHER],
    );
    digest = extendDigest(
      digest,
      rows.map((r) => r.content),
    );
    if (rows.length < TOGETHER) return digest;
    after = rows.at(-1)?.number ?? after;
  }
}
