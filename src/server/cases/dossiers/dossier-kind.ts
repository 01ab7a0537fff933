import type { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import type { LinkedFacts } from '../../../core/cases/linked/linked.ts';
import type { Need } from '../../../core/cases/needs.ts';
import type { Context } from '../../context.ts';
import type { Queries } from '../../store/pool.ts';
import type { LinkedQuery } from './linked-facts.ts';

/** One that is kept, with what it is linked to now. */
export interface Known<C, R> {
  readonly id: number;
  readonly content: C;
  readonly record: R;
  readonly facts: LinkedFacts;
  /** When they were read that are kept; `null` where that has to be done anew. */
  readonly factsAt: string | null;
  /** How often what is written was changed. */
  readonly revision: number;
  /** ISO 8601, where the organisation is. */
  readonly today: string;
  readonly createdAt: string;
}

/** What an act came to. */
export interface Done<R> {
  readonly record: R;
  readonly step: string;
  /** For the history. */
  readonly words: string;
  /** For the ledger; no data of people. */
  readonly detail?: Readonly<Record<string, string | number | boolean | null>>;
}

/**
 * A kind of what is written, looked at and decided over time: an impact assessment, a vendor, an AI system. What is written is
 * edited as plain objects are; what is decided comes by acts, each on record.
 */
export interface DossierKind<C extends { readonly name: string }, R, A> {
  readonly object: 'impact assessment' | 'vendor' | 'AI system';
  readonly table: string;
  readonly content: z.ZodType<C>;
  readonly record: z.ZodType<R>;
  /** Of one that is new. */
  readonly none: R;
  readonly words: Readonly<Record<string, string>>;
  readonly number: (id: number) => string;
  /** Of the desk: `/cases/vendors`. */
  readonly place: string;
  readonly links: (content: C, id: number) => LinkedQuery;
  readonly progress: (known: Known<C, R>) => { readonly state: string; readonly needs: readonly Need[] };
  /** What a register tells of it beside its number, name, owner and state: the same columns for all of a kind. */
  readonly cells: (known: Known<C, R>) => Readonly<Record<string, string>>;
  /** In the transaction that locked it. Throws a RefusedError for what may not be now. */
  readonly act: (tx: Queries, ctx: Context, known: Known<C, R>, act: A, by: Account) => Promise<Done<R>>;
}
