import type { MessagePort } from 'node:worker_threads';
import { openStore } from '../../../store/pool.ts';
import { LensIndexes, type AreaAnswers, type LensQuestion } from './lens-index.ts';

export interface ToLensThread {
  readonly id: number;
  readonly question: LensQuestion;
}

export type FromLensThread =
  { readonly id: number; readonly answer: unknown } | { readonly id: number; readonly failed: string };

/** Answers questions about items, apart from the process that serves the desk. */
export function runLensThread(
  port: MessagePort,
  databaseUrl: string,
  areas: ReadonlyMap<string, AreaAnswers> = new Map(),
): void {
  const indexes = new LensIndexes(openStore(databaseUrl, 2), areas);
  port.on('message', ({ id, question }: ToLensThread) => {
    indexes.answer(question).then(
      (answer) => port.postMessage({ id, answer } satisfies FromLensThread),
      (error: unknown) => port.postMessage({ id, failed: (error as Error).message } satisfies FromLensThread),
    );
  });
}
