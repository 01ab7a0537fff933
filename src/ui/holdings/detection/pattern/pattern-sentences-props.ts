import type { PatternDetector } from '../../../../core/holdings/detection/detector/detector.ts';

export interface PatternSentencesProps {
  readonly content: PatternDetector;
  readonly set: (content: PatternDetector) => void;
  readonly fixed: boolean;
  /** What is wrong with a field, by its dotted path. */
  readonly error: (field: string) => string | undefined;
}
