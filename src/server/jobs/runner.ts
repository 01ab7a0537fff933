import { randomUUID } from 'node:crypto';
import type { Action } from '../../core/accounts/action.ts';
import type { Json } from '../../core/rules/change.ts';
import type { Context } from '../context.ts';
import { putOnToday, takeOffToday } from '../desk/today.ts';
import { log } from '../log.ts';
import { logFailure } from '../processes/failure-log.ts';
import type { Queries } from '../store/pool.ts';
import {
  claimJob,
  heartbeat,
  lockJob,
  HEARTBEAT_MS,
  releaseJob,
  retryJob,
  withinOf,
  writeEnd,
  type Job,
  type JobEnd,
  type JobProgress,
} from './job.ts';

/** What a job's work gets: how to tell its progress, and when to stop. */
export interface JobRun {
  readonly job: Job;
  /** Whose lease it is. */
  readonly owner: string;
  /** Aborted when somebody cancels, the lease is lost or the worker stops; `reason` says which. */
  readonly signal: AbortSignal;
  progress(progress: JobProgress): void;
}

export type StopReason = 'cancelled' | 'lost' | 'stopping';

/** Thrown by work that trying again will not mend. */
export class FinalError extends Error {}

/**
 * Jobs of a lane wait for each other, never for those of another: what takes a browser, what takes long, and what somebody
 * waits for.
 */
export const LANES = { quick: 2, browser: 2, long: 1 } as const;
export type Lane = keyof typeof LANES;

export interface JobKind {
  readonly kind: string;
  readonly lane: Lane;
  /** What somebody must be allowed to do to be told of it, and to start or stop it. */
  readonly see: Action;
  readonly start: Action;
  /** Returns the result. On `signal` it keeps what it has and returns. */
  work(ctx: Context, run: JobRun): Promise<Json>;
  /** What becomes of its object, in the transaction that writes the end; for every end, once. */
  ended?(tx: Queries, ctx: Context, job: Job, end: JobEnd): Promise<void>;
}

/** Whether work still has its lease; locks it, so that nobody takes it up before this transaction is over. */
export async function holdsLease(
  tx: Queries,
  { job, owner }: Pick<JobRun, 'job' | 'owner'>,
): Promise<boolean> {
  const now = await lockJob(tx, job.id);
  return now.state === 'running' && now.lease_owner === owner;
}

/** For so long, Today tells that a job failed. */
const FAILURE_TOLD_MS = 7 * 86_400_000;

/**
 * Ends a job: its state, what becomes of its object, and what Today says, in one transaction. `false` where it was over
 * already, or is another worker's.
 */
export async function endJob(
  tx: Queries,
  ctx: Context,
  kind: JobKind,
  job: Job,
  end: JobEnd,
  owner?: string,
): Promise<boolean> {
  if (!(await writeEnd(tx, ctx.now(), job, end, owner))) return false;
  await kind.ended?.(tx, ctx, job, end);
  const key = failureKey(job);
  if (end.how === 'done') await takeOffToday(tx, 'failure', key);
  if (end.how === 'failed' || end.how === 'lost')
    await putOnToday(tx, {
      kind: 'failure',
      key,
      action: kind.see,
      words: `${job.title} failed`,
      detail: end.error,
      link: job.link ?? '/today',
      since: ctx.now(),
      until: new Date(ctx.now().getTime() + FAILURE_TOLD_MS),
      dismissable: true,
      within: withinOf(job),
    });
  return true;
}

/** What a later job has to be about to show that the failure is over. */
function failureKey(job: Job): string {
  return `${job.kind} ${job.object} ${job.object_id}`;
}

/** Runs jobs, so many of each lane together, until stopped. */
export class Runner {
  readonly owner = `${process.pid}-${randomUUID().slice(0, 8)}`;
  readonly #running = new Map<string, { lane: Lane; abort: AbortController; done: Promise<void> }>();
  #stopping = false;
  #loop: Promise<void> | undefined;

  constructor(
    readonly ctx: Context,
    readonly kinds: readonly JobKind[],
    readonly lanes: Readonly<Record<Lane, number>> = LANES,
    readonly idleMs = 500,
  ) {}

  start(): void {
    this.#loop ??= this.#run();
  }

  /** Ends the running jobs; what they had is kept and another worker takes them up. */
  async stop(): Promise<void> {
    this.#stopping = true;
    for (const { abort } of this.#running.values()) abort.abort('stopping' satisfies StopReason);
    await this.#loop;
    await Promise.all([...this.#running.values()].map((r) => r.done));
  }

  async #run(): Promise<void> {
    while (!this.#stopping)
      if (!(await this.#takeOne())) await new Promise((wake) => setTimeout(wake, this.idleMs));
  }

  /** Whether there was one to take. */
  async #takeOne(): Promise<boolean> {
    const free = this.kinds.filter((k) => this.#busy(k.lane) < this.lanes[k.lane]);
    try {
      const claim = await claimJob(
        this.ctx,
        this.owner,
        free.map((k) => k.kind),
      );
      if (!claim) return false;
      if (claim.lost) await this.#endLost(claim.lost);
      // Asked for before the word to stop came: it is another worker's.
      else if (this.#stopping) await releaseJob(this.ctx, claim.claimed, this.owner);
      else this.#begin(claim.claimed);
      return true;
    } catch (error) {
      logFailure('could not ask for work', error);
      return false;
    }
  }

  #busy(lane: Lane): number {
    return [...this.#running.values()].filter((r) => r.lane === lane).length;
  }

  #begin(job: Job): void {
    const kind = this.#kindOf(job);
    const abort = new AbortController();
    const done = this.#work(kind, job, abort).finally(() => this.#running.delete(job.id));
    this.#running.set(job.id, { lane: kind.lane, abort, done });
  }

  #kindOf(job: Job): JobKind {
    return this.kinds.find((k) => k.kind === job.kind) as JobKind;
  }

  async #work(kind: JobKind, job: Job, abort: AbortController): Promise<void> {
    let latest: JobProgress | undefined;
    const beat = async () => {
      const told = latest;
      latest = undefined;
      const answer = await heartbeat(this.ctx, job.id, this.owner, told).catch(() => 'go on' as const);
      if (answer !== 'go on') abort.abort(answer satisfies StopReason);
    };
    const timer = setInterval(() => void beat(), Math.min(HEARTBEAT_MS, 1000));
    log.info({ job: job.id, kind: job.kind, attempt: job.attempts }, 'job begins');
    try {
      const result = await kind.work(this.ctx, {
        job,
        owner: this.owner,
        signal: abort.signal,
        progress: (p) => (latest = p),
      });
      const reason = abort.signal.aborted ? (abort.signal.reason as StopReason) : undefined;
      if (reason === 'stopping') await releaseJob(this.ctx, job, this.owner);
      else if (reason !== 'lost') await this.#end(kind, job, { how: reason ?? 'done', result });
      log.info({ job: job.id, kind: job.kind, reason }, 'job ends');
    } catch (error) {
      await this.#fail(kind, job, error as Error);
    } finally {
      clearInterval(timer);
    }
  }

  async #end(kind: JobKind, job: Job, end: JobEnd): Promise<void> {
    await this.ctx.store.transaction((tx) => endJob(tx, this.ctx, kind, job, end, this.owner));
  }

  async #fail(kind: JobKind, job: Job, error: Error): Promise<void> {
    log.error({ job: job.id, kind: job.kind, err: error.message, stack: error.stack }, 'job failed');
    const final = error instanceof FinalError || job.attempts >= job.max_attempts;
    try {
      if (final) await this.#end(kind, job, { how: 'failed', error: error.message });
      else await retryJob(this.ctx, job, this.owner, error.message);
    } catch (second) {
      logFailure('could not write that a job failed; its lease will run out', second, { job: job.id });
    }
  }

  async #endLost(job: Job): Promise<void> {
    const end: JobEnd = {
      how: 'lost',
      error: `Its worker stopped without a word ${job.attempts === 1 ? 'once' : `${job.attempts} times`}.`,
    };
    log.error({ job: job.id, kind: job.kind }, 'job lost');
    try {
      await this.#end(this.#kindOf(job), job, end);
    } catch (error) {
      // Nothing of its object can be written; the job must not be taken up for ever all the same.
      logFailure('what became of a lost job could not be written', error, { job: job.id });
      await writeEnd(this.ctx.store, this.ctx.now(), job, end, this.owner);
    }
  }
}
