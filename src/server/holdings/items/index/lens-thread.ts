import type { MessagePort } from 'node:worker_threads';
import { answerThread } from '../../../processes/asked-thread.ts';
import { openStore } from '../../../store/pool.ts';
import { LensIndexes, type AreaAnswers, type LensQuestion } from './lens-index.ts';

/** Answers questions about items, apart from the process that serves the desk. */
export function runLensThread(
  port: MessagePort,
  databaseUrl: string,
  areas: ReadonlyMap<string, AreaAnswers> = new Map(),
): void {
  const indexes = new LensIndexes(openStore(databaseUrl, 2), areas);
  answerThread(port, (question) => indexes.answer(question as LensQuestion));
}
