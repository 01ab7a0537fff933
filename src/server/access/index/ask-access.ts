import type { Context } from '../../context.ts';
import { AskedThreads } from '../../processes/asked-thread.ts';
import type { AccessAsk, AccessQuestion, AccessQuestions } from './access-question.ts';

const THREADS = new AskedThreads('access-thread', 'The index of access');

/** Asks the thread of this process that keeps the estate; of a past day where one is named. Throws what it refuses with. */
export async function askAccess<A extends AccessAsk>(
  ctx: Context,
  ask: A,
  say: AccessQuestions[A]['say'],
  on?: string,
): Promise<AccessQuestions[A]['answer']> {
  const today = ctx.now().toISOString().slice(0, 10);
  const question = { ask, say, today, on } as AccessQuestion;
  return (await THREADS.ask(ctx.settings.DATABASE_URL ?? '', question)) as AccessQuestions[A]['answer'];
}

export function closeAccessThreads(): Promise<void> {
  return THREADS.close();
}
