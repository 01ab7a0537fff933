import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Context } from '../../../context.ts';
import { projectFolder } from '../../../processes/process.ts';
import type { LensAnswers, LensQuestion } from './lens-index.ts';
import type { FromLensThread, ToLensThread } from './lens-thread.ts';

interface Asked {
  readonly done: (answer: unknown) => void;
  readonly fail: (error: Error) => void;
}

interface Thread {
  readonly worker: Worker;
  readonly asked: Map<number, Asked>;
}

const threads = new Map<string, Thread>();
let last = 0;

/** Asks the thread of this process that keeps the index of lenses. Throws an Error where it ends, or cannot read. */
export function askLens<W extends LensQuestion['ask']['what']>(
  ctx: Context,
  question: Omit<LensQuestion, 'ask'> & { readonly ask: Extract<LensQuestion['ask'], { what: W }> },
): Promise<LensAnswers[W]> {
  const thread = threadOf(ctx.settings.DATABASE_URL ?? '');
  const id = ++last;
  return new Promise((done, fail) => {
    thread.asked.set(id, { done: done as (a: unknown) => void, fail });
    thread.worker.postMessage({ id, question } satisfies ToLensThread);
  });
}

function threadOf(url: string): Thread {
  const known = threads.get(url);
  if (known) return known;
  const program = join(projectFolder(), 'dist', 'lens-thread.mjs');
  if (!existsSync(program)) throw new Error('dist/lens-thread.mjs is missing: build first.');
  const worker = new Worker(program, { workerData: url, execArgv: [] });
  const thread: Thread = { worker, asked: new Map() };
  threads.set(url, thread);
  worker.unref();
  worker.on('message', (message: FromLensThread) => {
    const asked = thread.asked.get(message.id);
    thread.asked.delete(message.id);
    if ('answer' in message) asked?.done(message.answer);
    else asked?.fail(new Error(message.failed));
  });
  const ended = (words: string) => {
    threads.delete(url);
    for (const { fail } of thread.asked.values()) fail(new Error(words));
    thread.asked.clear();
  };
  worker.on('error', (error) => ended(`The index of items failed: ${error.message}`));
  worker.on('exit', () => ended('The index of items ended.'));
  return thread;
}

/** Ends the threads; those that are asked again start anew. */
export async function closeLensThreads(): Promise<void> {
  const all = [...threads.values()];
  threads.clear();
  await Promise.all(all.map((t) => t.worker.terminate()));
}
