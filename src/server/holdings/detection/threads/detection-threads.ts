import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import type { DetectSetting, FromThread, Task, TaskResults, ThreadSetting } from './detection-thread.ts';

/** Thrown when a task was ended for taking too long; names the detector that ran, where one did. */
export class TookTooLong extends Error {
  constructor(
    readonly ms: number,
    /** Index of the detector, and where in the text it was. */
    readonly detector: number | undefined,
    readonly at: number,
  ) {
    super(`It took longer than ${Math.round(ms / 1000)} seconds and was ended.`);
  }
}

interface Queued {
  readonly task: Task;
  readonly ms: number;
  readonly progress: (share: number) => void;
  readonly done: (result: unknown) => void;
  readonly fail: (error: Error) => void;
}

/** Threads that read files and detect, each ended and replaced when a task overruns its time. */
export class DetectPool {
  readonly #waiting: Queued[] = [];
  readonly #idle: Thread[] = [];
  readonly #all = new Set<Thread>();
  #closed = false;

  constructor(
    readonly setting: Omit<ThreadSetting, 'watch'>,
    readonly size: number,
    readonly memoryMb = 2048,
    /** The program of the threads. */
    readonly program = ENTRY,
  ) {}

  /** Throws TookTooLong, or an Error with what went wrong. */
  run<T extends Task>(
    task: T,
    ms: number,
    progress: (share: number) => void = () => {},
  ): Promise<TaskResults[T['what']]> {
    return new Promise((done, fail) => {
      this.#waiting.push({ task, ms, progress, done: done as (r: unknown) => void, fail });
      this.#next();
    });
  }

  #next(): void {
    if (this.#closed || this.#waiting.length === 0) return;
    let thread = this.#idle.pop();
    if (!thread && this.#all.size < this.size) {
      thread = new Thread(this.setting, this.memoryMb, this.program);
      this.#all.add(thread);
    }
    if (!thread) return;
    const queued = this.#waiting.shift() as Queued;
    const used = thread;
    used.run(queued).then((usable) => {
      if (usable) this.#idle.push(used);
      else this.#all.delete(used);
      this.#next();
    });
    this.#next();
  }

  /** A pool for tasks that bring their own detectors. */
  static forTasks(size: number, memoryMb: number, program: string): DetectPool {
    return new DetectPool(NO_DETECTORS, size, memoryMb, program);
  }

  async close(): Promise<void> {
    this.#closed = true;
    await Promise.all([...this.#all].map((t) => t.end()));
  }
}

export const NO_DETECTORS: DetectSetting = { detectors: [], rosters: [], likeness: [], learned: [], key: '' };
const ENTRY = join(dirname(fileURLToPath(import.meta.url)), 'detect-thread.mjs');

/** What a thread may take to start, at the most. */
const START_MS = 60_000;

interface Running {
  readonly queued: Queued;
  timer: NodeJS.Timeout;
  readonly usable: (again: boolean) => void;
}

class Thread {
  readonly #worker: Worker;
  readonly #watch = new SharedArrayBuffer(16);
  #running: Running | undefined;

  constructor(setting: Omit<ThreadSetting, 'watch'>, memoryMb: number, program: string) {
    this.#worker = new Worker(program, {
      workerData: { ...setting, watch: this.#watch } satisfies ThreadSetting,
      resourceLimits: { maxOldGenerationSizeMb: memoryMb },
      execArgv: [],
    });
    this.#worker.on('message', (message: FromThread) => {
      if (message.say === 'begun') this.#count();
      else if (message.say === 'progress') this.#running?.queued.progress(message.share);
      else if (message.say === 'done') this.#end(true, ({ done }) => done(message.result));
      else this.#end(true, ({ fail }) => fail(new Error(message.words)));
    });
    this.#worker.on('error', (error) => {
      const memory = (error as NodeJS.ErrnoException).code === 'ERR_WORKER_OUT_OF_MEMORY';
      this.#end(false, ({ fail }) =>
        fail(new Error(memory ? 'It needed more memory than it may have.' : error.message)),
      );
    });
    this.#worker.on('exit', () =>
      this.#end(false, ({ fail }) => fail(new Error('The thread that read it ended.'))),
    );
  }

  /** Whether the thread can be used again. */
  run(queued: Queued): Promise<boolean> {
    return new Promise((usable) => {
      const timer = setTimeout(() => this.#overrun(), queued.ms + START_MS);
      this.#running = { queued, timer, usable };
      this.#worker.postMessage(queued.task);
    });
  }

  /** Starting a thread and making detectors ready is not the task’s time. */
  #count(): void {
    if (!this.#running) return;
    clearTimeout(this.#running.timer);
    this.#running.timer = setTimeout(() => this.#overrun(), this.#running.queued.ms);
  }

  #overrun(): void {
    const [detector = 0, at = 0] = new Float64Array(this.#watch);
    this.#end(false, ({ fail, ms }) =>
      fail(new TookTooLong(ms, detector > 0 ? detector - 1 : undefined, at)),
    );
  }

  #end(again: boolean, tell: (queued: Queued) => void): void {
    const running = this.#running;
    if (!running) return;
    this.#running = undefined;
    clearTimeout(running.timer);
    if (!again) void this.#worker.terminate();
    tell(running.queued);
    running.usable(again);
  }

  async end(): Promise<void> {
    await this.#worker.terminate();
  }
}
