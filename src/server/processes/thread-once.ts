import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { projectFolder } from './process.ts';

export interface ThreadLimits {
  readonly ms: number;
  readonly megabytes: number;
}

/** Thrown where a thread took more time or memory than it may, or ended. */
export class ThreadEnded extends Error {}

/**
 * Runs a program in a thread of its own with `data`, and gives what it posts. For what others wrote and has to be read:
 * whatever it does to the thread, this process goes on. Throws a ThreadEnded; what the program throws is one, too.
 */
export async function threadOnce<T>(program: string, data: unknown, limits: ThreadLimits): Promise<T> {
  const file = join(projectFolder(), 'dist', `${program}.mjs`);
  if (!existsSync(file)) throw new Error(`dist/${program}.mjs is missing: build first.`);
  const thread = new Worker(file, {
    workerData: data,
    resourceLimits: { maxOldGenerationSizeMb: limits.megabytes },
    execArgv: [],
  });
  let late: NodeJS.Timeout | undefined;
  try {
    return await new Promise<T>((done, fail) => {
      late = setTimeout(
        () => fail(new ThreadEnded(`It took longer than ${Math.round(limits.ms / 1000)} seconds.`)),
        limits.ms,
      );
      thread.on('message', done);
      thread.on('error', (error) =>
        fail(
          new ThreadEnded(
            (error as NodeJS.ErrnoException).code === 'ERR_WORKER_OUT_OF_MEMORY'
              ? 'It needed more memory than it may have.'
              : error.message,
          ),
        ),
      );
      thread.on('exit', () => fail(new ThreadEnded('The thread that read it ended.')));
    });
  } finally {
    clearTimeout(late);
    await thread.terminate();
  }
}
