import type { z } from 'zod';
import type { Action } from '../../core/accounts/action.ts';
import type { Json } from '../../core/rules/change.ts';
import type { Amount, Pace } from '../../core/runs/estimate.ts';
import type { EndState } from '../../core/runs/run.ts';
import type { Context } from '../context.ts';
import type { Lane } from '../jobs/runner.ts';
import type { Queries } from '../store/pool.ts';
import type { Run } from './run-store.ts';

/** A part of a run as looking at it beforehand found it. */
export interface LookedPart extends Amount {
  /** Names it within the plan. */
  readonly part: string;
  readonly words: string;
  /** What is known already and not done again. */
  readonly leftOut?: Amount & { readonly why: string };
  /** How much of it was looked at, in (0, 1]; what is told of the rest is reckoned from that. */
  readonly seen?: number;
}

/** What was done since the place before. */
export interface Step extends Amount {
  readonly results: readonly Json[];
  /** Where to go on; `null` where the part is done. A bare string would not be read back from its column. */
  readonly place: Exclude<Json, string>;
  /** Of the part, in [0, 1], where that is known. */
  readonly share: number | null;
}

export interface Stepping<P> {
  readonly run: Run;
  readonly plan: P;
  readonly part: string;
  readonly place: Json | null;
  /** Aborted when the step should end soon; what it has then is kept. */
  readonly signal: AbortSignal;
}

/** Work that is estimated, takes long in steps, and has results: a survey, a rehearsal, a review. */
export interface RunKind<P, S extends Step = Step> {
  /** The word of the ledger for it. */
  readonly kind: string;
  readonly lane: Lane;
  readonly see: Action;
  readonly start: Action;
  readonly plan: z.ZodType<P>;
  /** Kinds of what accounts can be kept to, of which a run is about all where it is within none. */
  readonly wholeOf?: readonly string[];
  /** Where the desk shows one. */
  place(run: Pick<Run, 'id' | 'object' | 'object_id'>): string;
  /** How fast it is before anything was measured. */
  readonly guess: Pace;
  /** What there is to do, in parts that workers can share. Takes seconds, and reads nothing whole. */
  look(ctx: Context, plan: P, signal: AbortSignal): Promise<readonly LookedPart[]>;
  /** Goes on from a place for some seconds. Whatever it writes itself, it writes in `keep`. */
  step(ctx: Context, stepping: Stepping<P>): Promise<S>;
  /** Writes what a step found where else it belongs, in the transaction that moves the place on. */
  keep?(tx: Queries, ctx: Context, stepping: Stepping<P>, step: S): Promise<void>;
  /** What it came to, for the ledger; in the transaction that ends it. */
  outcome?(tx: Queries, ctx: Context, run: Run, state: EndState): Promise<Json>;
}
