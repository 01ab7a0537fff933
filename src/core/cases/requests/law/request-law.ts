import type { RequestKind } from '../request.ts';

/** A length of time as a law counts it. */
export interface Limit {
  readonly count: number;
  readonly unit: 'days' | 'working days' | 'months';
}

/** What stops a clock. */
export const PAUSES = ['proof', 'clarification'] as const;
export type PauseWhy = (typeof PAUSES)[number];
export const PAUSE_WORDS: Readonly<Record<PauseWhy, string>> = {
  proof: 'waits for who it is',
  clarification: 'waits for what is meant',
};

/** What a law gives people, and how long it leaves to answer. */
export interface RequestLaw {
  readonly id: string;
  readonly name: string;
  /** Regions by ISO 3166; the longest that fits counts. */
  readonly where: readonly string[];
  /** What can be asked, and where that stands. */
  readonly rights: Readonly<Partial<Record<RequestKind, string>>>;
  readonly answer: Limit;
  readonly answerArticle: string;
  /** Kinds that have another time. */
  readonly otherwise?: Readonly<Partial<Record<RequestKind, Limit>>>;
  /** Until then receipt has to be confirmed. */
  readonly confirm?: { readonly limit: Limit; readonly article: string };
  /** Added to the first time, where the person is told of it and why before that is over. */
  readonly extend?: { readonly limit: Limit; readonly article: string };
  readonly pauses: readonly PauseWhy[];
  /** What would end on a day off ends on the next working day. */
  readonly movesToWorkingDay: boolean;
  /** How often a year somebody may ask for the same; `null` where the law names no number. */
  readonly freeInAYear: number | null;
  /** Where what is repeated or excessive may be refused, or charged for. */
  readonly excessiveArticle: string;
}
