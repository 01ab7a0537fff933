import { z } from 'zod';
import { Mark } from '../linked/linked.ts';

const Reason = z.string().trim().min(3, 'Say why').max(2000, 'At most 2,000 characters');
const Said = z.strictObject({ by: z.int().min(1), at: z.iso.datetime() });

/** What was decided of an assessment, by whom, and on what it stood then. */
export const ImpactRecord = z.strictObject({
  threshold: Said.extend({ needed: z.boolean(), why: z.string() }).nullable(),
  /** Of the data protection officer (Art. 35(2)). */
  advice: Said.extend({ words: z.string(), proceed: z.boolean() }).nullable(),
  /** The authority was asked (Art. 36): days in ISO 8601. */
  consultation: z
    .strictObject({
      sentOn: z.iso.date(),
      extended: z.boolean(),
      answeredOn: z.iso.date().nullable(),
      answer: z.string(),
    })
    .nullable(),
  approval: Said.extend({
    words: z.string(),
    marks: z.array(Mark).max(2000),
    revision: z.int().min(0),
  }).nullable(),
  /** It is not pursued any more. */
  ended: Said.extend({ why: z.string() }).nullable(),
});
export type ImpactRecord = z.infer<typeof ImpactRecord>;

export const NO_IMPACT_RECORD: ImpactRecord = {
  ...{ threshold: null, advice: null, consultation: null, approval: null, ended: null },
};

/** What somebody does about an assessment. */
export const ImpactAct = z.discriminatedUnion('act', [
  z.strictObject({
    act: z.literal('decide'),
    needed: z.boolean(),
    why: z.string().trim().max(2000).default(''),
  }),
  z.strictObject({ act: z.literal('advise'), proceed: z.boolean(), words: Reason }),
  z.strictObject({ act: z.literal('consult'), on: z.iso.date() }),
  z.strictObject({ act: z.literal('longer') }),
  z.strictObject({ act: z.literal('answered'), on: z.iso.date(), words: Reason }),
  z.strictObject({ act: z.literal('approve'), words: z.string().trim().max(2000).default('') }),
  z.strictObject({ act: z.literal('send back'), words: Reason }),
  /** Looked at again; what changed meanwhile is in what is written. */
  z.strictObject({ act: z.literal('look again'), words: Reason }),
  z.strictObject({ act: z.literal('end'), words: Reason }),
  z.strictObject({ act: z.literal('open again'), words: Reason }),
  z.strictObject({ act: z.literal('note'), words: Reason }),
]);
export type ImpactAct = z.infer<typeof ImpactAct>;
