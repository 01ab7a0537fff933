import type { Context } from '../../../context.ts';
import { AskedThreads } from '../../../processes/asked-thread.ts';
import type { LensAnswers, LensQuestion } from './lens-index.ts';

const THREADS = new AskedThreads('lens-thread', 'The index of items');

/** Asks the thread of this process that keeps the index of lenses. Throws an Error where it ends, or cannot read. */
export async function askLens<W extends LensQuestion['ask']['what']>(
  ctx: Context,
  question: Omit<LensQuestion, 'ask'> & { readonly ask: Extract<LensQuestion['ask'], { what: W }> },
): Promise<LensAnswers[W]> {
  return (await THREADS.ask(ctx.settings.DATABASE_URL ?? '', question)) as LensAnswers[W];
}

/** Ends the threads; those that are asked again start anew. */
export function closeLensThreads(): Promise<void> {
  return THREADS.close();
}
