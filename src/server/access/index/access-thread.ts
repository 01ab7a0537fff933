import type { MessagePort } from 'node:worker_threads';
import { answerThread } from '../../processes/asked-thread.ts';
import { openStore } from '../../store/pool.ts';
import { answerOf, type AccessQuestion } from './access-question.ts';
import { EstateIndex } from './estate-index.ts';

/** Answers who reaches what, apart from the process that serves the desk. */
export function runAccessThread(port: MessagePort, databaseUrl: string): void {
  const index = new EstateIndex(openStore(databaseUrl, 2));
  answerThread(port, (question) => answerFrom(index, question as AccessQuestion));
}

export async function answerFrom(index: EstateIndex, question: AccessQuestion): Promise<unknown> {
  const { today, on } = question;
  if (question.ask === 'differs' || question.ask === 'places differ') {
    const now = on === undefined || on >= today ? await index.now(today) : await index.on(on);
    return answerOf(now, question, await index.on(question.say.with));
  }
  const view = on === undefined || on >= today ? await index.now(today) : await index.on(on);
  return answerOf(view, question);
}
