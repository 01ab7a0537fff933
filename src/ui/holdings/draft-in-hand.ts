import { atom } from 'nanostores';
import type { OwnDetector } from '../../core/holdings/own-detector.ts';

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

export const draftInHand = atom<DraftInHand | undefined>(undefined);
