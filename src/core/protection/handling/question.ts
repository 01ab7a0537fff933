import { z } from 'zod';

/** How long somebody may be let by, in hours. */
export const PASS_HOURS = {
  '1': 'for an hour',
  '8': 'for 8 hours',
  '24': 'for a day',
  '168': 'for a week',
} as const;

/** What the officer answers to somebody who asked. */
export const QuestionAnswer = z.discriminatedUnion('is', [
  z.strictObject({
    is: z.literal('yes'),
    hours: z.int().min(1, 'At least 1 hour').max(168, 'At most a week'),
    words: z.string().trim().max(400).default(''),
  }),
  z.strictObject({ is: z.literal('no'), words: z.string().trim().min(1, 'Say why not.').max(400) }),
]);
export type QuestionAnswer = z.infer<typeof QuestionAnswer>;
