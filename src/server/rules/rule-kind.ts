import type { z } from 'zod';
import type { Difference, Vocabulary } from '../../core/rules/change.ts';
import type { Refusal } from '../../core/refusal.ts';
import type { Stage } from '../../core/rules/rule.ts';
import type { Queries } from '../store/pool.ts';

export type Key = string | number;

/** A kind of rule: where its draft and its versions are kept, and what makes a draft whole. */
export interface RuleKind<T> {
  /** As it is called in sentences and in the ledger. */
  readonly object: string;
  readonly table: string;
  /** The column of `table` that identifies a rule. */
  readonly key: string;
  readonly versionTable: string;
  readonly versionKey: string;
  /** What is put in force; drafts are stored as they are, since they may be unfinished. */
  readonly content: z.ZodType<T>;
  vocabulary(store: Queries): Promise<Vocabulary>;
  /** Takes out of a change what may be personal, for the ledger. */
  redact?(difference: Difference): Difference;
  /** What else keeps a draft from being rehearsed or put in force. */
  blocks?(store: Queries, key: Key, content: T): Promise<Refusal['fields']>;
  /** What else a move changes, in its transaction. */
  moved?(tx: Queries, key: Key, stage: Stage): Promise<void>;
}
