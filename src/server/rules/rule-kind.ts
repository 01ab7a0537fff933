import type { z } from 'zod';
import type { Difference, Json, Vocabulary } from '../../core/rules/change.ts';
import type { Refusal } from '../../core/refusal.ts';
import type { Within } from '../../core/accounts/scope.ts';
import type { Act, Stage } from '../../core/rules/rule.ts';
import type { Context } from '../context.ts';
import type { Queries } from '../store/pool.ts';

export type Key = string | number;

/** A kind of rule: what it is called, what makes a draft whole, and what goes with its moves. */
export interface RuleKind<T> {
  /** As it is called in sentences and in the ledger. */
  readonly object: string;
  /** What is put in force. */
  readonly content: z.ZodType<T>;
  /** What may be saved as a draft, where that is less than whole. */
  readonly draft?: z.ZodType<T>;
  /**
   * What makes a content of an older shape one of the next: the first of shape 1 into shape 2, and so on. What was
   * frozen stays as it was written, and is read through these.
   */
  readonly upgrades?: readonly ((content: Json) => Json)[];
  /** What a rule is found and listed by. */
  name(store: Queries, key: Key, content: T): string | Promise<string>;
  /** Where the desk shows it. */
  place(store: Queries, key: Key): string | Promise<string>;
  /** What it belongs to, of what accounts can be kept to. */
  within?(store: Queries, key: Key): readonly Within[] | Promise<readonly Within[]>;
  /** What a draft names of others, by the words of the ledger. */
  refersTo?(content: T): readonly { readonly object: string; readonly id: string }[];
  /** What it says, in plain text, a sentence a line. */
  text?(store: Queries, key: Key, content: T): Promise<string>;
  vocabulary(store: Queries): Promise<Vocabulary>;
  /** Before a draft is saved, as typed, taken back or undone: throws a RefusedError for what nobody may save. */
  check?(saving: { store: Queries; by: number; key: Key; saved: T; content: T }): Promise<void>;
  /** Throws a RefusedError for an act that something else keeps it from. */
  mayMove?(tx: Queries, key: Key, act: Act['act']): Promise<void>;
  /** Takes out of a change what may be personal, for the ledger. */
  redact?(difference: Difference): Difference;
  /**
   * Before a draft is put in force, or others are asked to agree to that, outside the transaction: throws a RefusedError for
   * what has to be mended first.
   */
  beforeForce?(ctx: Context, key: Key, content: T): Promise<void>;
  /** What else keeps a draft from being rehearsed or put in force. */
  blocks?(store: Queries, key: Key, content: T): Promise<Refusal['fields']>;
  /**
   * What goes with a draft that is removed before it was ever rehearsed, in its transaction; throws a RefusedError where
   * something stands on it. Absent where drafts of the kind stay.
   */
  removed?(tx: Queries, key: Key): Promise<void>;
  /** What the ledger is told of a removed draft, beside its name. */
  removedDetail?(content: T): Readonly<Record<string, string>>;
  /** What else a move changes, in its transaction. */
  moved?(tx: Queries, key: Key, stage: Stage): Promise<void>;
}
