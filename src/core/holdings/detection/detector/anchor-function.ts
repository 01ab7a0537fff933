import type { Step } from './confidence.ts';

export interface FunctionHit {
  readonly start: number;
  readonly end: number;
  readonly steps: readonly Step[];
}

/** Reads whole cells under a heading. */
export interface CellReader {
  /** The match in a cell that stands under one of the detector's headings. */
  readonly cell: (text: string, start: number, end: number) => FunctionHit | undefined;
}

/** An anchor that is a function: set off by words, or by whole cells under a heading. */
export interface AnchorFunction extends CellReader {
  /** Lower case, three letters or more, written with a capital in the text. */
  readonly words: readonly string[];
  /** As `words`, however they are written. */
  readonly plainWords: readonly string[];
  /** Signs of ASCII at which it is asked too. */
  readonly signs: readonly string[];
  /** The match that the sign at `at` leads to. */
  readonly atSign: (text: string, at: number) => FunctionHit | undefined;
  /** The match that the word at [start, end) belongs to. */
  readonly at: (text: string, start: number, end: number) => FunctionHit | undefined;
}
