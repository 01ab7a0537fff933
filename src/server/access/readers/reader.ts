import type { EstateLine } from '../../../core/access/estate/estate-line.ts';
import type { AccessStep } from '../../../core/access/change/access-change.ts';

/** When somebody used a place last. */
export interface UseLine {
  readonly type: 'use';
  readonly person: string;
  readonly place: string;
  /** ISO 8601 day. */
  readonly day: string;
}

export type SourceLine =
  | { readonly line: EstateLine; readonly holds?: string | null }
  | { readonly use: UseLine }
  /** A line that could not be taken. */
  | { readonly fault: string };

/** What reads rights, or people and groups, and may write them. */
export interface AccessReader {
  /**
   * All lines, by the ids that the source has for them. Throws a ReaderError where it cannot be read to its end: half an estate
   * would make the other half look gone.
   */
  lines(signal: AbortSignal): AsyncIterable<SourceLine>;
  /**
   * Does one step, by the source’s own ids, once however often it is asked with the same `id`. Absent where nothing can be
   * written. Throws a StepRefused where it was not done.
   */
  apply?(id: string, step: AccessStep): Promise<'done' | 'already'>;
  close(): Promise<void>;
}

/** The source cannot be read. */
export class ReaderError extends Error {}

/** One step was not done, and why. */
export class StepRefused extends Error {
  constructor(
    message: string,
    /** Whether it may be tried again as it is. */
    readonly passes = false,
  ) {
    super(message);
  }
}
