import { randomUUID } from 'node:crypto';
import type { Json } from '../../core/rules/change.ts';
import type { Context } from '../context.ts';
import { log } from '../log.ts';
import { claimJob, failJob, finishJob, heartbeat, HEARTBEAT_MS, type Job, type JobProgress } from './job.ts';

/** What a job's work gets: how to tell its progress, and when to stop. */
export interface JobRun {
  readonly job: Job;
  /** Aborted when somebody cancels, the lease is lost or the worker stops; `reason` says which. */
  readonly signal: AbortSignal;
  progress(progress: JobProgress): void;
}

export type StopReason = 'cancelled' | 'lost' | 'stopping';

/** Thrown by work that trying again will not mend. */
export class FinalError extends Error {}

export interface JobKind {
  readonly kind: string;
  /** Returns the result. On `signal` it keeps what it has and returns. */
  work(ctx: Context, run: JobRun): Promise<Json>;
  /** Called once when the job has failed for good. */
  failed?(ctx: Context, job: Job, error: string): Promise<void>;
}

/** Runs jobs, at most `atOnce` together, until stopped. */
export class Runner {
  readonly owner = `${process.pid}-${randomUUID().slice(0, 8)}`;
  readonly #running = new Map<string, { abort: AbortController; done: Promise<void> }>();
  #stopping = false;
  #loop: Promise<void> | undefined;

  constructor(
    readonly ctx: Context,
    readonly kinds: readonly JobKind[],
    readonly atOnce: number,
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
    while (!this.#stopping) {
      const claimed = this.#running.size < this.atOnce ? await this.#claim() : undefined;
      if (claimed) {
        const abort = new AbortController();
        const done = this.#work(claimed, abort).finally(() => this.#running.delete(claimed.id));
        this.#running.set(claimed.id, { abort, done });
      } else await new Promise((wake) => setTimeout(wake, this.idleMs));
    }
  }

  async #claim(): Promise<Job | undefined> {
    try {
      return await claimJob(
        this.ctx,
        this.owner,
        this.kinds.map((k) => k.kind),
      );
    } catch (error) {
      log.error({ err: (error as Error).message }, 'could not ask for work');
      return undefined;
    }
  }

  async #work(job: Job, abort: AbortController): Promise<void> {
    const kind = this.kinds.find((k) => k.kind === job.kind) as JobKind;
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
      const result = await kind.work(this.ctx, { job, signal: abort.signal, progress: (p) => (latest = p) });
      clearInterval(timer);
      const reason = abort.signal.aborted ? (abort.signal.reason as StopReason) : undefined;
      if (reason === 'stopping')
        await failJob(
          this.ctx,
          { ...job, attempts: 0 },
          this.owner,
          'The worker was stopped; the work goes on.',
          false,
        );
      else if (reason !== 'lost')
        await finishJob(this.ctx, job.id, this.owner, reason === 'cancelled' ? 'cancelled' : 'done', result);
      log.info({ job: job.id, kind: job.kind, reason }, 'job ends');
    } catch (error) {
      clearInterval(timer);
      await this.#fail(kind, job, error as Error);
    }
  }

  async #fail(kind: JobKind, job: Job, error: Error): Promise<void> {
    log.error({ job: job.id, kind: job.kind, err: error.message, stack: error.stack }, 'job failed');
    try {
      const next = await failJob(this.ctx, job, this.owner, error.message, error instanceof FinalError);
      if (next === 'failed') await kind.failed?.(this.ctx, job, error.message);
    } catch (second) {
      log.error(
        { job: job.id, err: (second as Error).message },
        'could not write that the job failed; its lease will run out',
      );
    }
  }
}
