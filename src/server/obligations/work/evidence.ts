import { createHash } from 'node:crypto';
import { z } from 'zod';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { dropUpload, readUpload } from '../../files/uploads.ts';
import { openText, sealText } from '../../secret.ts';
import { Bytes, Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { findWork, readWorkKey } from './measure-work-object.ts';

const Row = z
  .object({
    id: z.number(),
    measure: z.string(),
    name: z.string(),
    hash: Bytes,
    size: z.number(),
    until: z.string().nullable(),
    link: z.string().nullable(),
    added_at: Instant,
    added_by: z.string().nullable(),
  })
  .transform(({ hash, added_at, added_by, ...r }) => ({
    ...r,
    hash: hash.toString('hex'),
    addedAt: added_at,
    addedBy: added_by,
  }));
export type ListedEvidence = z.infer<typeof Row>;

const LISTED = `SELECT e.id, e.measure, e.name, e.hash, e.size, DATE_FORMAT(e.until, '%Y-%m-%d') AS until, e.link, e.added_at, a.name AS added_by
  FROM measure_evidence e LEFT JOIN account a ON a.id = e.added_by WHERE e.removed_at IS NULL AND e.cycle_id = ?`;

/** What stands behind a measure in a cycle, the oldest first. */
export function evidenceOf(
  store: Queries,
  cycle: number,
  measure: string,
): Promise<readonly ListedEvidence[]> {
  return store.all(Row, `${LISTED} AND e.measure = ? ORDER BY e.id`, [cycle, measure]);
}

/** The same of all measures. */
export async function evidenceIn(
  store: Queries,
  cycle: number,
): Promise<ReadonlyMap<string, readonly ListedEvidence[]>> {
  const found = new Map<string, ListedEvidence[]>();
  for (const one of await store.all(Row, `${LISTED} ORDER BY e.id`, [cycle])) {
    const of = found.get(one.measure) ?? [];
    of.push(one);
    found.set(one.measure, of);
  }
  return found;
}

/** Adds a file that was sent. Throws a RefusedError where it did not arrive whole. */
export async function addEvidence(
  ctx: Context,
  by: number,
  key: string,
  { upload, until }: { readonly upload: number; readonly until: string | null },
): Promise<number> {
  const { name, bytes } = await readUpload(ctx, by, upload);
  return ctx.store.transaction(async (tx) => {
    const id = await keepEvidence(ctx, tx, by, key, { name, bytes, until });
    await dropUpload(tx, upload);
    return id;
  });
}

export interface NewEvidence {
  readonly name: string;
  readonly bytes: Uint8Array;
  readonly until: string | null;
  /** The place of the program that it was taken from. */
  readonly link?: string;
}

/** Keeps evidence of a measure, in the transaction of the change that brings it; its number. Throws a RefusedError (404). */
export async function keepEvidence(
  ctx: Context,
  tx: Queries,
  by: number,
  key: string,
  { name, bytes, until, link }: NewEvidence,
): Promise<number> {
  const { cycle, measure } = await findWork(tx, key);
  const hash = createHash('sha256').update(bytes).digest();
  const { id } = await tx.run(
    'INSERT INTO measure_evidence (cycle_id, measure, name, hash, size, body, until, link, added_by, added_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
    [
      ...[cycle, measure.id, name.slice(0, 200), hash, bytes.length],
      sealText(ctx.settings.SECRET_KEY, Buffer.from(bytes).toString('base64')),
      ...[until, link ?? null, by, toDatetime(ctx.now())],
    ],
  );
  await record(tx, ctx.now(), {
    ...{ actor: by, action: 'measure-evidence.add', object: 'measure work', objectId: key },
    detail: { evidence: id, name, sha256: hash.toString('hex'), until },
  });
  return id;
}

/** Takes it out: it counts no more, and the ledger keeps its hash. Throws a RefusedError (404). */
export async function removeEvidence(ctx: Context, by: number, key: string, id: number): Promise<void> {
  const { cycle, measure } = readWorkKey(key);
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run(
      'UPDATE measure_evidence SET removed_at = ? WHERE id = ? AND cycle_id = ? AND measure = ? AND removed_at IS NULL',
      [toDatetime(ctx.now()), id, cycle, measure],
    );
    if (changed === 0) throw notFound('evidence');
    // A provider’s word goes with its file.
    await tx.run('DELETE FROM provider_answer WHERE cycle_id = ? AND measure = ? AND evidence_id = ?', [
      ...[cycle, measure, id],
    ]);
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'measure-evidence.remove', object: 'measure work', objectId: key },
      detail: { evidence: id },
    });
  });
}

/** The file itself. Throws a RefusedError (404). */
export async function evidenceFile(
  { store, settings }: Context,
  key: string,
  id: number,
): Promise<{ readonly name: string; readonly body: Buffer }> {
  const { cycle, measure } = readWorkKey(key);
  const row = await store.one(
    z.object({ name: z.string(), body: z.string() }),
    'SELECT name, body FROM measure_evidence WHERE id = ? AND cycle_id = ? AND measure = ? AND removed_at IS NULL',
    [id, cycle, measure],
  );
  if (!row) throw notFound('evidence');
  return { name: row.name, body: Buffer.from(openText(settings.SECRET_KEY, row.body), 'base64') };
}
