import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { UnstampableError, type CarriedLevel, type Marking } from '../../core/protection/stamp/marking.ts';
import { carrierOf, readFileLevel, stampFile } from '../../core/protection/stamp/stamp-file.ts';
import { wideFont } from '../files/wide-font.ts';
import { projectFolder } from '../processes/process.ts';

export interface StampTask {
  readonly bytes: Uint8Array;
  /** With its values put in. */
  readonly marking: Marking;
  readonly level: CarriedLevel;
  readonly wide?: Uint8Array;
}

/** What a file is to levels. */
export interface ReadFile {
  /** The level that it says it has. */
  readonly carried?: CarriedLevel | undefined;
  readonly carrier: ReturnType<typeof carrierOf>;
}

export type ThreadTask =
  { readonly do: 'stamp'; readonly task: StampTask } | { readonly do: 'read'; readonly bytes: Uint8Array };

export type StampAnswer =
  | { readonly bytes: Uint8Array }
  | { readonly read: ReadFile }
  | { readonly why: UnstampableError['why']; readonly words: string };

const MOST_MS = 20_000;
const MEMORY_MB = 512;

export async function stampInThread(asked: ThreadTask): Promise<StampAnswer> {
  try {
    if (asked.do === 'read')
      return { read: { carried: await readFileLevel(asked.bytes), carrier: carrierOf(asked.bytes) } };
    const { bytes, marking, level, wide } = asked.task;
    return { bytes: (await stampFile(bytes, marking, level, wide)).bytes };
  } catch (error) {
    if (!(error instanceof UnstampableError)) throw error;
    return { why: error.why, words: error.message };
  }
}

/** Stamps what a stranger sent, apart from the process that serves the desk. Throws an UnstampableError. */
export async function stampApart(task: StampTask): Promise<Uint8Array> {
  const answer = await apart({ do: 'stamp', task: { ...task, wide: wideFont() } });
  if (!('bytes' in answer)) throw new Error('The thread answered something else.');
  return answer.bytes;
}

/** Reads what a stranger sent, in the same way. Throws an UnstampableError for what carries no level. */
export async function readApart(bytes: Uint8Array): Promise<ReadFile> {
  const answer = await apart({ do: 'read', bytes });
  if (!('read' in answer)) throw new Error('The thread answered something else.');
  return answer.read;
}

type Done = Exclude<StampAnswer, { readonly why: unknown }>;

function apart(task: ThreadTask): Promise<Done> {
  const program = join(projectFolder(), 'dist', 'stamp-thread.mjs');
  if (!existsSync(program)) throw new Error('dist/stamp-thread.mjs is missing: build first.');
  const worker = new Worker(program, {
    workerData: task,
    execArgv: [],
    resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
  });
  return new Promise<Done>((done, fail) => {
    const tooMuch = () =>
      fail(new UnstampableError('damaged', 'It takes more than a document does, and was given up.'));
    const late = setTimeout(tooMuch, MOST_MS);
    worker.once('message', (answer: StampAnswer) => {
      clearTimeout(late);
      if ('why' in answer) fail(new UnstampableError(answer.why, answer.words));
      else done(answer);
    });
    worker.once('error', (error: NodeJS.ErrnoException) => {
      clearTimeout(late);
      if (error.code === 'ERR_WORKER_OUT_OF_MEMORY') tooMuch();
      else fail(error);
    });
  }).finally(() => void worker.terminate());
}
