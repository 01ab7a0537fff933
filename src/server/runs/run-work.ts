import { z } from 'zod';
import { settledState, type EndState } from '../../core/runs/run.ts';
import { canonicalDigest } from '../../core/evidence/canonical.ts';
import type { Json } from '../../core/rules/change.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { addJob, askToStop, openJobsAbout, writeEnd, type Job, type JobEnd } from '../jobs/job.ts';
import { holdsLease, type JobKind, type JobRun } from '../jobs/runner.ts';
import { toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import type { RunKind, Step } from './run-kind.ts';
import { EMPTY_DIGEST, extendDigest, wholeDigest } from './run-digest.ts';
import { findPart, findRun, partsOf, withinOfRun } from './run-store.ts';

/** Parts of one run that are queued at once, so that as many workers can share it and others get their turn. */
const TOGETHER = 4;

const Payload = z.object({ run: z.string(), position: z.number().optional() });

/** The two kinds of jobs behind a kind of run: one that looks, one that does a part. */
export function runJobs(kind: RunKind<unknown>): readonly JobKind[] {
  const common = { see: kind.see, start: kind.start };
  return [
    {
      ...common,
      kind: `${kind.kind}-look`,
      lane: 'quick',
      work: (ctx, run) => look(ctx, kind, run),
      ended: async (tx, ctx, job, end) => {
        const { run } = Payload.parse(job.payload);
        // Somebody cancelled as it was about to be over.
        const stopped = end.how === 'cancelled' || (await findRun(tx, run, true)).state === 'stopping';
        if (end.how === 'done' && !stopped) return;
        await endRun(tx, ctx, kind, run, stopped ? 'cancelled' : 'failed', errorOf(end));
      },
    },
    {
      ...common,
      kind: kind.kind,
      lane: kind.lane,
      work: (ctx, run) => doPart(ctx, kind, run),
      ended: (tx, ctx, job, end) => partEnded(tx, ctx, kind, job, end),
    },
  ];
}

function errorOf(end: JobEnd): string | null {
  return 'error' in end ? end.error : null;
}

/** Looks at what there is to do, and puts down the parts. */
async function look(ctx: Context, kind: RunKind<unknown>, { job, signal }: JobRun): Promise<Json> {
  const { run: id } = Payload.parse(job.payload);
  const run = await findRun(ctx.store, id);
  if (run.state !== 'estimating') return { run: id };
  const looked = await kind.look(ctx, kind.plan.parse(run.plan), signal);
  if (signal.aborted) return { run: id };
  await ctx.store.transaction(async (tx) => {
    const now = await findRun(tx, id, true);
    if (now.state !== 'estimating') return;
    const rows = looked.map(({ part, words, ...rest }, i) => [
      id,
      i,
      part,
      words.slice(0, 300),
      JSON.stringify(rest),
      EMPTY_DIGEST,
    ]);
    for (let from = 0; from < rows.length; from += 500)
      await tx.run('INSERT INTO run_part (run_id, position, part, words, looked, digest) VALUES ?', [
        rows.slice(from, from + 500),
      ]);
    await tx.run("UPDATE run SET state = 'estimated' WHERE id = ?", [id]);
    await record(tx, ctx.now(), {
      actor: 'worker',
      action: 'run.estimate',
      object: 'run',
      objectId: id,
      detail: { kind: kind.kind, parts: looked.length },
    });
  });
  return { run: id };
}

/** Does a part step by step; each step's results and the place they lead to are written together. */
async function doPart(ctx: Context, kind: RunKind<unknown>, job: JobRun): Promise<Json> {
  const { run: id, position = 0 } = Payload.parse(job.job.payload);
  const run = await findRun(ctx.store, id);
  const plan = kind.plan.parse(run.plan);
  const total = (await partsOf(ctx.store, id)).length;
  for (;;) {
    const part = await findPart(ctx.store, id, position);
    if (part.state !== 'queued' || job.signal.aborted) return { run: id, position };
    const begun = performance.now();
    const stepping = { run, plan, part: part.part, place: part.place, signal: job.signal };
    const step = await kind.step(ctx, stepping);
    const seconds = (performance.now() - begun) / 1000;
    const kept = await ctx.store.transaction(async (tx) => {
      // A worker that was taken for dead writes nothing any more.
      if (!(await holdsLease(tx, job))) return false;
      const now = await findPart(tx, id, position, true);
      await keepStep(tx, id, now, step, seconds);
      await kind.keep?.(tx, ctx, stepping, step);
      return true;
    });
    if (!kept || step.place === null) return { run: id, position };
    const elapsed = part.seconds + seconds;
    job.progress({
      words: `${part.words}, part ${position + 1} of ${total}`,
      share: step.share,
      secondsLeft:
        step.share && step.share > 0.02 ? Math.round((elapsed / step.share) * (1 - step.share)) : null,
    });
  }
}

async function keepStep(
  tx: Queries,
  run: string,
  part: { readonly position: number; readonly results: number; readonly digest: Buffer },
  step: Step,
  seconds: number,
): Promise<void> {
  const rows = step.results.map((content, i) => [
    run,
    part.position,
    part.results + i,
    JSON.stringify(content),
  ]);
  for (let from = 0; from < rows.length; from += 500)
    await tx.run('INSERT INTO run_result (run_id, position, number, content) VALUES ?', [
      rows.slice(from, from + 500),
    ]);
  await tx.run(
    `UPDATE run_part SET place = ?, items = items + ?, bytes = bytes + ?, results = results + ?, seconds = seconds + ?, digest = ?
     WHERE run_id = ? AND position = ?`,
    [
      JSON.stringify(step.place),
      step.items,
      step.bytes,
      rows.length,
      seconds,
      extendDigest(part.digest, step.results),
      run,
      part.position,
    ],
  );
}

/** What becomes of a part, and of the run where it was the last that was worked at. */
async function partEnded(
  tx: Queries,
  ctx: Context,
  kind: RunKind<unknown>,
  job: Job,
  end: JobEnd,
): Promise<void> {
  const { run: id, position = 0 } = Payload.parse(job.payload);
  const run = await findRun(tx, id, true);
  const part = await findPart(tx, id, position, true);
  if (part.state !== 'queued') return;
  const stopped = end.how === 'cancelled';
  // What was paused goes on from its place.
  const state = stopped
    ? run.state === 'pausing'
      ? 'waiting'
      : 'cancelled'
    : end.how === 'done'
      ? 'done'
      : 'failed';
  await tx.run('UPDATE run_part SET state = ?, error = ?, ended_at = ? WHERE run_id = ? AND position = ?', [
    state,
    errorOf(end),
    state === 'waiting' ? null : toDatetime(ctx.now()),
    id,
    position,
  ]);
  // Somebody who stops one part of it stops it all.
  if (state === 'cancelled' && run.state === 'running') {
    await tx.run("UPDATE run SET state = 'stopping' WHERE id = ?", [id]);
    await stopJobs(tx, ctx, id);
  }
  await settleRun(tx, ctx, kind, id);
}

/** Queues what there is room for, or ends the run where nothing is left; in the transaction that changed its parts. */
export async function settleRun(
  tx: Queries,
  ctx: Context,
  kind: Pick<RunKind<unknown>, 'kind' | 'outcome' | 'place'>,
  id: string,
): Promise<void> {
  const run = await findRun(tx, id, true);
  const parts = await partsOf(tx, id);
  const queued = parts.filter((p) => p.state === 'queued').length;
  if (run.state === 'running')
    for (const { position, words } of parts
      .filter((p) => p.state === 'waiting')
      .slice(0, Math.max(0, TOGETHER - queued))) {
      await tx.run("UPDATE run_part SET state = 'queued' WHERE run_id = ? AND position = ?", [id, position]);
      await addJob(tx, ctx.now(), {
        kind: kind.kind,
        title: parts.length > 1 ? `${run.title}: ${words}` : run.title,
        about: { object: 'run', id },
        within: withinOfRun(run),
        payload: { run: id, position },
        // The run was somebody's one wish; its parts do not count against them.
        createdBy: null,
        link: kind.place(run),
      });
    }
  const after = await partsOf(tx, id);
  if (after.some((p) => p.state === 'queued')) return;
  const settled = settledState(
    run.state,
    after.map((p) => p.state),
  );
  if (settled === 'paused') await tx.run("UPDATE run SET state = 'paused' WHERE id = ?", [id]);
  else if (settled !== undefined) {
    const failed = after.find((p) => p.state === 'failed');
    await endRun(tx, ctx, kind, id, settled, failed?.error ?? null);
  }
}

/** Ends a run, with what it came to and a digest of all its results in the ledger. */
export async function endRun(
  tx: Queries,
  ctx: Context,
  kind: Pick<RunKind<unknown>, 'kind' | 'outcome'>,
  id: string,
  state: EndState,
  error: string | null,
): Promise<void> {
  const run = await findRun(tx, id, true);
  if (run.ended_at !== null) return;
  const now = ctx.now();
  const parts = await partsOf(tx, id);
  const digest = wholeDigest(parts.map((p) => p.digest));
  await tx.run(
    "UPDATE run_part SET state = 'cancelled', ended_at = ? WHERE run_id = ? AND state = 'waiting'",
    [toDatetime(now), id],
  );
  const outcome: Json = {
    items: sum(parts.map((p) => p.items)),
    bytes: sum(parts.map((p) => p.bytes)),
    results: sum(parts.map((p) => p.results)),
    seconds: Math.round(sum(parts.map((p) => p.seconds))),
    failed: parts.filter((p) => p.state === 'failed').length,
    ...((await kind.outcome?.(tx, ctx, run, state)) as object | undefined),
  };
  await tx.run('UPDATE run SET state = ?, ended_at = ?, error = ?, outcome = ?, digest = ? WHERE id = ?', [
    state,
    toDatetime(now),
    error?.slice(0, 2000) ?? null,
    JSON.stringify(outcome),
    digest,
    id,
  ]);
  await record(tx, now, {
    actor: 'worker',
    action: 'run.end',
    object: 'run',
    objectId: id,
    detail: {
      kind: kind.kind,
      about: { object: run.object, id: run.object_id },
      state,
      outcome,
      digest: canonicalDigest(resultsValue(digest)),
    },
  });
}

/** Has those that run stop at the end of their step; those that wait are over at once. Whether any runs. */
export async function stopJobs(tx: Queries, ctx: Context, id: string): Promise<boolean> {
  const open = await openJobsAbout(tx, { object: 'run', id });
  for (const job of open) {
    if (job.state === 'running') {
      await askToStop(tx, job.id);
      continue;
    }
    await writeEnd(tx, ctx.now(), job, { how: 'cancelled', result: null });
    await tx.run(
      "UPDATE run_part SET state = 'waiting' WHERE run_id = ? AND position = ? AND state = 'queued'",
      [id, Payload.parse(job.payload).position ?? -1],
    );
  }
  return open.some((job) => job.state === 'running');
}

/** What the ledger keeps a digest of. */
export function resultsValue(digest: Buffer): Json {
  return { results: digest.toString('hex') };
}

function sum(numbers: readonly number[]): number {
  return numbers.reduce((a, b) => a + b, 0);
}
