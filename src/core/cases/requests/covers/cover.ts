import { z } from 'zod';

/** Why something is not shown to the person. */
export const GROUNDS = ['another person', 'secret', 'privilege', 'inquiry', 'not theirs'] as const;
export type Ground = (typeof GROUNDS)[number];

/** As a letter says it, with where the law has it. */
export const GROUND_WORDS: Readonly<Record<Ground, string>> = {
  'another person': 'it is about another person (GDPR Art. 15(4))',
  secret: 'it is a trade secret (GDPR Art. 15(4), recital 63)',
  privilege: 'it is between us and our lawyers',
  inquiry: 'it would harm an inquiry or a claim (GDPR Art. 23)',
  'not theirs': 'it is not about you',
};

/** A stretch that is taken out of what the person gets; UTF-16 offsets in the text that was read. */
export const Cover = z.strictObject({
  start: z.int().min(0),
  end: z.int().min(1),
  /** What was found there: the id of a detector, `word` for what a person marked. */
  what: z.string().max(64),
  ground: z.enum(GROUNDS),
  by: z.enum(['engine', 'hand']),
});
export type Cover = z.infer<typeof Cover>;

/** Something that a person has to look at: the engine cannot tell whose it is. */
export interface Doubt {
  readonly start: number;
  readonly end: number;
  readonly why: string;
}

export interface CoverProposal {
  readonly covers: readonly Cover[];
  readonly doubts: readonly Doubt[];
  /** Other people that it tells of: by names, else by addresses. */
  readonly others: number;
}
