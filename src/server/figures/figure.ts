import type { Action } from '../../core/accounts/action.ts';
import type { FigureRow } from '../../core/figures/figure-row.ts';
import type { FigureValue, FigureWords } from '../../core/figures/figure.ts';
import type { Context } from '../context.ts';
import type { Queries } from '../store/pool.ts';

/** A figure of an area, with how it is counted. */
export interface Figure extends FigureWords {
  /** What somebody must be allowed to do to know it. */
  readonly see: Action;
  /** The rows behind it, as they are now. */
  readonly link: string;
  value(store: Queries, now: Date, ctx: Context): Promise<FigureValue>;
  /** What `value` is made of, each key once; in the same transaction, both say the same. */
  rows(store: Queries, now: Date, ctx: Context): Promise<readonly FigureRow[]>;
}
