import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { UnstampableError, type CarriedLevel, type Marking } from '../../core/protection/stamp/marking.ts';
import { stampFile } from '../../core/protection/stamp/stamp-file.ts';
import { wideFont } from './wide-font.ts';
import { projectFolder } from '../processes/process.ts';

export interface StampTask {
  readonly bytes: Uint8Array;
  /** With its values put in. */
  readonly marking: Marking;
  readonly level: CarriedLevel;
  readonly wide?: Uint8Array;
}

export type StampAnswer =
  { readonly bytes: Uint8Array } | { readonly why: UnstampableError['why']; readonly words: string };

const MOST_MS = 20_000;
const MEMORY_MB = 512;

export async function stampInThread({ bytes, marking, level, wide }: StampTask): Promise<StampAnswer> {
  try {
    return { bytes: (await stampFile(bytes, marking, level, wide)).bytes };
  } catch (error) {
    if (!(error instanceof UnstampableError)) throw error;
    return { why: error.why, words: error.message };
  }
}

/** Stamps what a stranger sent, apart from the process that serves the desk. Throws an UnstampableError. */
export function stampApart(task: StampTask): Promise<Uint8Array> {
  const program = join(projectFolder(), 'dist', 'stamp-thread.mjs');
  if (!existsSync(program)) throw new Error('dist/stamp-thread.mjs is missing: build first.');
  const worker = new Worker(program, {
    workerData: { ...task, wide: wideFont() } satisfies StampTask,
    execArgv: [],
    resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
  });
  return new Promise<Uint8Array>((done, fail) => {
    const tooMuch = () =>
      fail(new UnstampableError('damaged', 'It takes more than a document does, and was given up.'));
    const late = setTimeout(tooMuch, MOST_MS);
    worker.once('message', (answer: StampAnswer) => {
      clearTimeout(late);
      if ('bytes' in answer) done(answer.bytes);
      else fail(new UnstampableError(answer.why, answer.words));
    });
    worker.once('error', (error: NodeJS.ErrnoException) => {
      clearTimeout(late);
      if (error.code === 'ERR_WORKER_OUT_OF_MEMORY') tooMuch();
      else fail(error);
    });
  }).finally(() => void worker.terminate());
}
