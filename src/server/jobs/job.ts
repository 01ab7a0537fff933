import { z } from 'zod';
import type { Json } from '../../core/rules/change.ts';
import { RefusedError } from '../../core/refusal.ts';
import type { Within } from '../../core/accounts/scope.ts';
import { withinColumns } from '../accounts/scope-condition.ts';
import type { Context } from '../context.ts';
import { BigId, Count, Flag, Instant, JsonColumn, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

export const JOB_STATES = ['waiting', 'running', 'done', 'failed', 'cancelled'] as const;

/** How far a job is; `share` in [0, 1] where it is known. */
export const JobProgress = z.object({
  words: z.string(),
  share: z.number().min(0).max(1).nullable(),
  secondsLeft: z.number().nullable(),
});
export type JobProgress = z.infer<typeof JobProgress>;

const COLUMNS =
  'id, kind, title, object, object_id, within_object, within_id, payload, state, attempts, max_attempts, lease_owner, cancel_asked, progress, result, error, link, created_by, created_at, started_at, finished_at, changed_at';
const Row = z.object({
  id: BigId,
  kind: z.string(),
  title: z.string(),
  object: z.string(),
  object_id: z.string(),
  within_object: z.string(),
  within_id: z.string(),
  payload: JsonColumn(z.json()),
  state: z.enum(JOB_STATES),
  attempts: z.number(),
  max_attempts: z.number(),
  lease_owner: z.string().nullable(),
  cancel_asked: Flag,
  progress: JsonColumn(JobProgress.nullable()),
  result: JsonColumn(z.json().nullable()),
  error: z.string().nullable(),
  link: z.string().nullable(),
  created_by: z.number().nullable(),
  created_at: Instant,
  started_at: Instant.nullable(),
  finished_at: Instant.nullable(),
  changed_at: Instant,
});
export type Job = z.infer<typeof Row>;

export interface NewJob {
  readonly kind: string;
  readonly title: string;
  /** What it is about, by the words of the ledger. */
  readonly about: { readonly object: string; readonly id: string | number };
  /** What that belongs to, of what accounts can be kept to. */
  readonly within?: readonly Within[];
  readonly payload: Json;
  readonly createdBy: number | null;
  /** Where the desk shows what it does. */
  readonly link?: string;
  readonly runAt?: Date;
  readonly maxAttempts?: number;
  /** Open ones of this kind that one person may have. */
  readonly mostOpen?: number;
}

const MOST_OPEN = 6;
/** Open ones of everybody. */
const MOST_OPEN_IN_ALL = 500;

/** Queues a job in the caller's transaction. Throws a RefusedError (429) where somebody has too many open already. */
export async function addJob(tx: Queries, now: Date, job: NewJob): Promise<string> {
  if (job.createdBy !== null) await requireShare(tx, job.kind, job.createdBy, job.mostOpen ?? MOST_OPEN);
  const within = withinColumns(job.within);
  const { id } = await tx.run(
    'INSERT INTO job (kind, title, object, object_id, within_object, within_id, payload, run_at, max_attempts, link, created_by) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
    [
      job.kind,
      job.title.slice(0, 200),
      job.about.object,
      String(job.about.id),
      within.within_object,
      within.within_id,
      JSON.stringify(job.payload),
      toDatetime(job.runAt ?? now),
      job.maxAttempts ?? 3,
      job.link ?? null,
      job.createdBy,
    ],
  );
  return String(id);
}

async function requireShare(tx: Queries, kind: string, who: number, most: number): Promise<void> {
  // One at a time for each person, so that two at once do not both find room.
  await tx.all(z.object({ id: z.number() }), 'SELECT id FROM account WHERE id = ? FOR UPDATE', [who]);
  const open = await tx.one(
    z.object({ mine: Count, everyones: Count }),
    "SELECT SUM(kind = ? AND created_by = ?) AS mine, COUNT(*) AS everyones FROM job WHERE state IN ('waiting', 'running')",
    [kind, who],
  );
  if ((open?.mine ?? 0) >= most)
    throw new RefusedError(
      `You have ${open?.mine} of these waiting or running already. Wait until one is done, or cancel one.`,
      [],
      429,
    );
  if ((open?.everyones ?? 0) >= MOST_OPEN_IN_ALL)
    throw new RefusedError('Too much work waits already. Wait until some of it is done.', [], 429);
}

export async function findJob(store: Queries, id: string): Promise<Job | undefined> {
  return store.one(Row, `SELECT ${COLUMNS} FROM job WHERE id = ?`, [id]);
}

/** The open job of a kind about something; `undefined` where there is none. */
export async function openJobAbout(
  tx: Queries,
  kind: string,
  about: NewJob['about'],
): Promise<string | undefined> {
  const row = await tx.one(
    z.object({ id: BigId }),
    "SELECT id FROM job WHERE object = ? AND object_id = ? AND kind = ? AND state IN ('waiting', 'running') LIMIT 1",
    [about.object, String(about.id), kind],
  );
  return row?.id;
}

/** All open jobs about something, locked. */
export function openJobsAbout(tx: Queries, about: NewJob['about']): Promise<readonly Job[]> {
  return tx.all(
    Row,
    `SELECT ${COLUMNS} FROM job WHERE object = ? AND object_id = ? AND state IN ('waiting', 'running') FOR UPDATE`,
    [about.object, String(about.id)],
  );
}

/** How a job ended. `lost`: its workers went silent too often. */
export type JobEnd =
  | { readonly how: 'done' | 'cancelled'; readonly result: Json }
  | { readonly how: 'failed' | 'lost'; readonly error: string };

/** Whether `job` was still open, and `owner`'s where one is given; then it is over. */
export async function writeEnd(
  tx: Queries,
  now: Date,
  job: Pick<Job, 'id'>,
  end: JobEnd,
  owner?: string,
): Promise<boolean> {
  const state = end.how === 'lost' ? 'failed' : end.how;
  const { changed } = await tx.run(
    `UPDATE job SET state = ?, result = ?, error = ?, finished_at = ?, lease_owner = NULL, lease_until = NULL
     WHERE id = ? AND state IN ('waiting', 'running')${owner === undefined ? '' : ' AND lease_owner = ?'}`,
    [
      state,
      'result' in end ? JSON.stringify(end.result) : null,
      'error' in end ? end.error.slice(0, 2000) : null,
      toDatetime(now),
      job.id,
      ...(owner === undefined ? [] : [owner]),
    ],
  );
  return changed > 0;
}

/** A worker that shows no sign of life for this long loses its job. */
export const LEASE_MS = 20_000;
export const HEARTBEAT_MS = 5_000;

/** `lost`: its workers went silent as often as it may be tried; it is for the caller to end it. */
export type Claim =
  { readonly claimed: Job; readonly lost?: undefined } | { readonly claimed?: undefined; readonly lost: Job };

/** Takes the next job of these kinds for `owner`: one that waits, or one whose worker has gone silent. */
export async function claimJob(
  ctx: Context,
  owner: string,
  kinds: readonly string[],
): Promise<Claim | undefined> {
  if (kinds.length === 0) return undefined;
  return ctx.store.transaction(async (tx) => {
    const now = toDatetime(ctx.now());
    // Each by its index in order, so that only the row taken is locked and others pass it by.
    const next = (condition: string, order: string) =>
      tx.one(
        Row,
        `SELECT ${COLUMNS} FROM job WHERE ${condition} <= ? AND kind IN (?) ORDER BY ${order} LIMIT 1 FOR UPDATE SKIP LOCKED`,
        [now, kinds],
      );
    const job =
      (await next("state = 'waiting' AND run_at", 'run_at, id')) ??
      (await next("state = 'running' AND lease_until", 'lease_until, id'));
    if (!job) return undefined;
    const lost = job.state === 'running' && job.attempts >= job.max_attempts;
    await tx.run(
      "UPDATE job SET state = 'running', attempts = attempts + ?, lease_owner = ?, lease_until = ?, started_at = COALESCE(started_at, ?), error = NULL WHERE id = ?",
      [lost ? 0 : 1, owner, leaseEnd(ctx), now, job.id],
    );
    return lost ? { lost: job } : { claimed: { ...job, state: 'running', attempts: job.attempts + 1 } };
  });
}

/** `lost`: another worker has it now; `cancelled`: somebody asked for it to stop. */
export type Heartbeat = 'go on' | 'cancelled' | 'lost';

export async function heartbeat(
  ctx: Context,
  id: string,
  owner: string,
  progress: JobProgress | undefined,
): Promise<Heartbeat> {
  const { changed } = await ctx.store.run(
    "UPDATE job SET lease_until = ?, progress = COALESCE(?, progress) WHERE id = ? AND lease_owner = ? AND state = 'running'",
    [leaseEnd(ctx), progress ? JSON.stringify(progress) : null, id, owner],
  );
  if (changed === 0) return 'lost';
  const row = await ctx.store.one(
    z.object({ cancel_asked: Flag }),
    'SELECT cancel_asked FROM job WHERE id = ?',
    [id],
  );
  return row?.cancel_asked ? 'cancelled' : 'go on';
}

/** Puts a job that did not succeed back, to be tried after a pause that grows: 5 s, 20 s, 80 s …. */
export async function retryJob(ctx: Context, job: Job, owner: string, error: string): Promise<void> {
  const runAt = new Date(ctx.now().getTime() + 5000 * 4 ** (job.attempts - 1));
  await ctx.store.run(
    "UPDATE job SET state = 'waiting', run_at = ?, error = ?, lease_owner = NULL, lease_until = NULL WHERE id = ? AND lease_owner = ?",
    [toDatetime(runAt), error.slice(0, 2000), job.id, owner],
  );
}

/** Puts a job back as it was before it was claimed, for another worker to take up at once. */
export async function releaseJob(ctx: Context, job: Job, owner: string): Promise<void> {
  await ctx.store.run(
    "UPDATE job SET state = 'waiting', run_at = ?, attempts = attempts - 1, lease_owner = NULL, lease_until = NULL WHERE id = ? AND lease_owner = ?",
    [toDatetime(ctx.now()), job.id, owner],
  );
}

/** Locks a job; throws a RefusedError (404). */
export async function lockJob(tx: Queries, id: string): Promise<Job> {
  const job = await tx.one(Row, `SELECT ${COLUMNS} FROM job WHERE id = ? FOR UPDATE`, [id]);
  if (!job) throw new RefusedError('There is no such job.', [], 404);
  return job;
}

/** Asks whoever works at it to stop. */
export async function askToStop(tx: Queries, id: string): Promise<void> {
  await tx.run('UPDATE job SET cancel_asked = TRUE WHERE id = ?', [id]);
}

/** Removes jobs that ended before `until`. */
export async function forgetOldJobs(store: Queries, until: Date): Promise<void> {
  await store.run('DELETE FROM job WHERE finished_at < ? LIMIT 5000', [toDatetime(until)]);
}

/** Work that runs or waits, and what ended within the last minutes; newest first. */
export async function recentJobs(ctx: Context, minutes: number): Promise<Job[]> {
  const since = toDatetime(new Date(ctx.now().getTime() - minutes * 60_000));
  // Each half by its own index.
  return ctx.store.all(
    Row,
    `SELECT ${COLUMNS} FROM (
       (SELECT ${COLUMNS} FROM job WHERE state IN ('waiting', 'running') ORDER BY id DESC LIMIT 50)
       UNION ALL
       (SELECT ${COLUMNS} FROM job WHERE finished_at > ? ORDER BY finished_at DESC LIMIT 50)
     ) recent ORDER BY id DESC LIMIT 50`,
    [since],
  );
}

export async function countJobs(store: Queries): Promise<{ waiting: number; running: number }> {
  const row = await store.one(
    z.object({ waiting: Count, running: Count }),
    "SELECT SUM(state = 'waiting') AS waiting, SUM(state = 'running') AS running FROM job WHERE state IN ('waiting', 'running')",
  );
  return { waiting: row?.waiting ?? 0, running: row?.running ?? 0 };
}

function leaseEnd(ctx: Context): string {
  return toDatetime(new Date(ctx.now().getTime() + LEASE_MS));
}

/** What it belongs to, of what accounts can be kept to. */
export function withinOf(job: Pick<Job, 'within_object' | 'within_id'>): readonly Within[] {
  return job.within_object === '' ? [] : [{ kind: job.within_object, id: job.within_id }];
}
