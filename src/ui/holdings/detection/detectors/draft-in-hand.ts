import { atom } from 'nanostores';
import type { PatternDetector } from '../../../../core/holdings/detection/detector/detector.ts';
import type { OwnDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';

/** The detector under edit, so that what shows its effect sees each change at once. */
export interface DraftInHand {
  readonly content: OwnDetector;
  /** Before the last change made here. */
  readonly before: OwnDetector | undefined;
  /** The newest version that was frozen. */
  readonly lastVersion: number;
  /** The built-in detector it began as a copy of. */
  readonly copiedFrom: string;
  /** Changes the draft; `undefined` for someone who may not. */
  readonly set: ((content: OwnDetector) => void) | undefined;
}

/** Words that lead to a value stand right before it. */
const LEADS_WITHIN = 12;

/** A pattern detector that is less sure, or surer, after some words; they join a context of the same kind. */
export function withContext(content: PatternDetector, words: string, against: boolean): PatternDetector {
  const steps = against ? -4 : 3;
  const there = content.context.findIndex(
    (c) => c.where === 'before' && c.within === LEADS_WITHIN && c.words !== undefined && c.steps === steps,
  );
  const context = content.context[there];
  if (context?.words)
    return {
      ...content,
      context: content.context.with(there, { ...context, words: [...context.words, words] }),
    };
  return {
    ...content,
    context: [...content.context, { where: 'before', within: LEADS_WITHIN, words: [words], steps }],
  };
}

export const draftInHand = atom<DraftInHand | undefined>(undefined);
