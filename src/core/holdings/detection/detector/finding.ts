import type { Step } from './confidence.ts';
import type { Place } from '../../../text/segment.ts';

/** A match of a detector, with the sum that makes its confidence. */
export interface Finding {
  readonly detector: string;
  readonly version: number;
  /** UTF-16 offsets in the extracted text. */
  readonly start: number;
  readonly end: number;
  /** In [0, 1]. */
  readonly confidence: number;
  /** What gave what; the first is the anchor itself. */
  readonly steps: readonly Step[];
  readonly masked: string;
  /** Keyed, for counting distinct values; empty where no key was given. */
  readonly hash: string;
  readonly place: Place;
  readonly heading?: string;
  /** Only where the caller asked for clear values. */
  readonly value?: string;
}

/** A match that did not come to a finding, and what it lacked. */
export interface NearMiss extends Finding {
  readonly lacked: string;
}

/** What one detector says of a whole document. */
export interface Verdict {
  readonly detector: string;
  readonly version: number;
  readonly found: boolean;
  readonly findings: number;
  readonly distinct: number;
  /** Of the surest finding. */
  readonly confidence: number;
  /** Why it does not count, where it found something and yet does not. */
  readonly why: string;
}

/** A detector that went over its time and was left out from there on. */
export interface Stopped {
  readonly detector: string;
  /** UTF-16 offset. */
  readonly at: number;
  readonly why: string;
}

export interface DetectionResult {
  readonly findings: readonly Finding[];
  readonly nearMisses: readonly NearMiss[];
  readonly verdicts: readonly Verdict[];
  readonly stopped: readonly Stopped[];
}
