import { z } from 'zod';
import { Mark } from '../linked/linked.ts';
import { AI_CLASSES, type AiClass } from './ai-act.ts';

const Reason = z.string().trim().min(3, 'Say why').max(2000, 'At most 2,000 characters');
const Said = z.strictObject({ by: z.int().min(1), at: z.iso.datetime(), words: z.string().max(2000) });

/** The life of a system, and where it can go from each stage. */
export const AI_STAGES = {
  planned: ['tested', 'used', 'retired'],
  tested: ['planned', 'used', 'retired'],
  used: ['paused', 'retired'],
  paused: ['used', 'retired'],
  retired: [],
} as const;
export type AiStage = keyof typeof AI_STAGES;
export const AI_STAGE_WORDS: Readonly<Record<AiStage, string>> = {
  ...{ planned: 'planned', tested: 'being tested', used: 'in use', paused: 'paused', retired: 'retired' },
};
const STAGES = Object.keys(AI_STAGES) as [AiStage, ...AiStage[]];

/** What was decided of an AI system. */
export const AiRecord = z.strictObject({
  /** From its first stage on; days in ISO 8601. */
  life: z.array(Said.extend({ stage: z.enum(STAGES), on: z.iso.date() })),
  /** Duties that are seen to, by article, with how. */
  duties: z.record(z.string(), Said),
  approval: Said.extend({
    class: z.enum(Object.keys(AI_CLASSES) as [AiClass, ...AiClass[]]),
    marks: z.array(Mark).max(5000),
  }).nullable(),
});
export type AiRecord = z.infer<typeof AiRecord>;
export const NO_AI_RECORD: AiRecord = { life: [], duties: {}, approval: null };

export const stageOf = ({ life }: Pick<AiRecord, 'life'>): AiStage => life.at(-1)?.stage ?? 'planned';

/** What somebody does about an AI system. */
export const AiAct = z.discriminatedUnion('act', [
  z.strictObject({
    act: z.literal('stage'),
    to: z.enum(STAGES),
    on: z.iso.date(),
    words: z.string().trim().max(2000).default(''),
  }),
  z.strictObject({ act: z.literal('duty'), article: z.string().max(60), words: Reason }),
  z.strictObject({ act: z.literal('approve'), words: z.string().trim().max(2000).default('') }),
  z.strictObject({ act: z.literal('look again'), words: Reason }),
  /** A lookout on what is sent to it, as a draft. */
  z.strictObject({ act: z.literal('watch') }),
  z.strictObject({ act: z.literal('note'), words: Reason }),
]);
export type AiAct = z.infer<typeof AiAct>;
