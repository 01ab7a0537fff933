import type { Action } from '../../core/accounts/action.ts';

/** Something that is looked at by itself: a quiet Today says that it was. */
export interface Checking {
  /** Who may know of it. */
  readonly see: Action;
  readonly one: string;
  readonly many: string;
  /** Answers `n`, how many were looked at since a moment (its one value), and `at`, when last; `at` NULL for never. */
  readonly sql: string;
}
