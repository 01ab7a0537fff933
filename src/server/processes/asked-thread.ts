import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Worker, type MessagePort } from 'node:worker_threads';
import { RefusedError, type Refusal } from '../../core/refusal.ts';
import { isUnreachable } from '../store/pool.ts';
import { projectFolder } from './process.ts';

interface Asked {
  readonly done: (answer: unknown) => void;
  readonly fail: (error: Error) => void;
}

interface Thread {
  readonly worker: Worker;
  readonly asked: Map<number, Asked>;
}

interface ToThread {
  readonly id: number;
  readonly question: unknown;
}

type FromThread =
  | { readonly id: number; readonly answer: unknown }
  /** `away`: the database could not be reached. */
  | { readonly id: number; readonly failed: string; readonly away: boolean }
  | {
      readonly id: number;
      readonly refused: string;
      readonly fields: Refusal['fields'];
      readonly status: RefusedError['status'];
    };

/** Threads that keep something in memory, one for each database, and are asked about it by this process. */
export class AskedThreads {
  readonly #threads = new Map<string, Thread>();
  #last = 0;

  constructor(
    readonly program: string,
    /** As a failure calls what it keeps: `The index of items`. */
    readonly words: string,
  ) {}

  /** Throws what the thread refused with, an Error where it failed or ended. */
  ask(url: string, question: unknown): Promise<unknown> {
    const thread = this.#threadOf(url);
    const id = ++this.#last;
    return new Promise((done, fail) => {
      thread.asked.set(id, { done, fail });
      thread.worker.postMessage({ id, question } satisfies ToThread);
    });
  }

  /** Ends them; those that are asked again start anew. */
  async close(): Promise<void> {
    const all = [...this.#threads.values()];
    this.#threads.clear();
    await Promise.all(all.map((t) => t.worker.terminate()));
  }

  #threadOf(url: string): Thread {
    const known = this.#threads.get(url);
    if (known) return known;
    const program = join(projectFolder(), 'dist', `${this.program}.mjs`);
    if (!existsSync(program)) throw new Error(`dist/${this.program}.mjs is missing: build first.`);
    const worker = new Worker(program, { workerData: url, execArgv: [] });
    const thread: Thread = { worker, asked: new Map() };
    this.#threads.set(url, thread);
    worker.unref();
    worker.on('message', (message: FromThread) => {
      const asked = thread.asked.get(message.id);
      thread.asked.delete(message.id);
      if ('answer' in message) asked?.done(message.answer);
      else if ('refused' in message)
        asked?.fail(new RefusedError(message.refused, message.fields, message.status));
      else asked?.fail(Object.assign(new Error(message.failed), message.away ? { fatal: true } : {}));
    });
    const ended = (words: string) => {
      this.#threads.delete(url);
      for (const { fail } of thread.asked.values()) fail(new Error(words));
      thread.asked.clear();
    };
    worker.on('error', (error) => ended(`${this.words} failed: ${error.message}`));
    worker.on('exit', () => ended(`${this.words} ended.`));
    return thread;
  }
}

/** In the thread: answers what is asked, each as soon as it can. */
export function answerThread(port: MessagePort, answer: (question: unknown) => Promise<unknown>): void {
  port.on('message', ({ id, question }: ToThread) => {
    answer(question).then(
      (given) => port.postMessage({ id, answer: given } satisfies FromThread),
      (error: unknown) =>
        port.postMessage(
          (error instanceof RefusedError
            ? { id, refused: error.message, fields: error.fields, status: error.status }
            : { id, failed: (error as Error).message, away: isUnreachable(error) }) satisfies FromThread,
        ),
    );
  });
}
