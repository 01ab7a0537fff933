import { z } from 'zod';
import type { SlotOption } from '../../rules/sentence.ts';
import { THEN, type Then } from '../verdict/retention-verdict.ts';
import { FOR_GOOD, TermShape, termWords } from './term.ts';

/** How long some items are kept, set on them by hand, and what follows. */
export const ExceptionContent = z.strictObject({
  ...TermShape,
  then: z.enum(Object.keys(THEN) as [Then, ...Then[]]),
});
export type ExceptionContent = z.infer<typeof ExceptionContent>;

/** Kept, whatever rules say. */
export const KEPT: ExceptionContent = {
  keep: FOR_GOOD,
  after: 'changed',
  yearEnd: false,
  unknown: 'never begins',
  then: 'nothing',
};

/** `kept for good`, `kept 3 months after the last change, then deleted`. */
export function exceptionWords(content: ExceptionContent, clocks: readonly SlotOption[]): string {
  const then = content.keep === FOR_GOOD || content.then === 'nothing' ? '' : `, then ${THEN[content.then]}`;
  return `kept ${termWords(content, clocks)}${then}`;
}
