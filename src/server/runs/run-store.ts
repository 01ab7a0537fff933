import { z } from 'zod';
import type { Amount } from '../../core/runs/estimate.ts';
import { RUN_STATES, type PartState } from '../../core/runs/run.ts';
import type { Within } from '../../core/accounts/scope.ts';
import type { Json } from '../../core/rules/change.ts';
import { notFound } from '../../core/refusal.ts';
import { BigId, Bytes, Count, Instant, JsonColumn } from '../store/columns.ts';
import { decodeCursor, toPage, type Page } from '../store/page.ts';
import type { Queries } from '../store/pool.ts';
import { Where } from '../store/where.ts';

const Row = z.object({
  id: BigId,
  kind: z.string(),
  title: z.string(),
  object: z.string(),
  object_id: z.string(),
  within_object: z.string(),
  within_id: z.string(),
  plan: JsonColumn(z.json()),
  state: z.enum(RUN_STATES),
  created_by: z.number().nullable(),
  created_at: Instant,
  started_at: Instant.nullable(),
  ended_at: Instant.nullable(),
  error: z.string().nullable(),
  outcome: JsonColumn(z.json().nullable()),
  digest: Bytes.nullable(),
});
export type Run = z.infer<typeof Row>;
const COLUMNS = Object.keys(Row.shape).join(', ');

/** Throws a RefusedError (404). */
export async function findRun(store: Queries, id: string, lock = false): Promise<Run> {
  const run = await store.one(Row, `SELECT ${COLUMNS} FROM run WHERE id = ?${lock ? ' FOR UPDATE' : ''}`, [
    id,
  ]);
  if (!run) throw notFound('run');
  return run;
}

/** Of a kind about something, the newest first. */
export async function runsAbout(
  store: Queries,
  kind: string,
  about: { readonly object: string; readonly id: string | number },
  most = 20,
): Promise<readonly Run[]> {
  return store.all(
    Row,
    `SELECT ${COLUMNS} FROM run WHERE object = ? AND object_id = ? AND kind = ? ORDER BY id DESC LIMIT ?`,
    [about.object, String(about.id), kind, most],
  );
}

export function withinOfRun(run: Run): readonly Within[] {
  return run.within_object === '' ? [] : [{ kind: run.within_object, id: run.within_id }];
}

const Looked = z.object({
  items: z.number(),
  bytes: z.number(),
  leftOut: z.object({ items: z.number(), bytes: z.number(), why: z.string() }).optional(),
  seen: z.number().optional(),
});
const PartRow = z
  .object({
    position: z.number(),
    part: z.string(),
    words: z.string(),
    looked: JsonColumn(Looked),
    state: z.enum(['waiting', 'queued', 'done', 'failed', 'cancelled']),
    place: JsonColumn(z.json().nullable()),
    items: Count,
    bytes: Count,
    results: z.number(),
    seconds: z.number(),
    digest: Bytes,
    error: z.string().nullable(),
  })
  .transform((row) => ({ ...row, state: row.state satisfies PartState }));
export type RunPart = z.infer<typeof PartRow>;
const PART_COLUMNS =
  'position, part, words, looked, state, place, items, bytes, results, seconds, digest, error';

export function partsOf(store: Queries, run: string): Promise<readonly RunPart[]> {
  return store.all(PartRow, `SELECT ${PART_COLUMNS} FROM run_part WHERE run_id = ? ORDER BY position`, [run]);
}

/** Throws a RefusedError (404). */
export async function findPart(
  store: Queries,
  run: string,
  position: number,
  lock = false,
): Promise<RunPart> {
  const part = await store.one(
    PartRow,
    `SELECT ${PART_COLUMNS} FROM run_part WHERE run_id = ? AND position = ?${lock ? ' FOR UPDATE' : ''}`,
    [run, position],
  );
  if (!part) throw notFound('part of the run');
  return part;
}

/** How long the latest parts of a kind took that were done. */
export function measuredParts(
  store: Queries,
  kind: string,
): Promise<readonly (Amount & { readonly seconds: number })[]> {
  return store.all(
    z.object({ items: Count, bytes: Count, seconds: z.number() }),
    `SELECT p.items, p.bytes, p.seconds FROM (SELECT id FROM run WHERE kind = ? ORDER BY id DESC LIMIT 40) r
     JOIN run_part p ON p.run_id = r.id WHERE p.state = 'done' AND p.items > 0 LIMIT 200`,
    [kind],
  );
}

export interface RunResult {
  readonly position: number;
  readonly number: number;
  readonly content: Json;
}

/** How many results there are of each kind that they say they are (`is`). */
export async function countResults(store: Queries, run: string): Promise<Readonly<Record<string, number>>> {
  const rows = await store.all(
    z.object({ is: z.string(), n: Count }),
    "SELECT JSON_VALUE(content, '$.is') AS `is`, COUNT(*) AS n FROM run_result WHERE run_id = ? GROUP BY 1",
    [run],
  );
  return Object.fromEntries(rows.map((r) => [r.is, r.n]));
}

/** Results in the order they were found, by part. */
export async function listResults(
  store: Queries,
  run: string,
  after: string | undefined,
  size: number,
): Promise<Page<RunResult>> {
  const where = new Where().and('run_id = ?', run);
  if (after !== undefined)
    where.after(['position', 'number'], 'up', decodeCursor(after, z.tuple([z.int(), z.int()])));
  const rows = await store.all(
    z.object({ position: z.number(), number: z.number(), content: JsonColumn(z.json()) }),
    `SELECT position, number, content FROM run_result WHERE ${where.sql} ORDER BY position, number LIMIT ?`,
    [...where.params, size + 1],
  );
  return toPage(rows, size, (r) => [r.position, r.number]);
}
