import { z } from 'zod';
import { GROUNDS } from './covers/cover.ts';
import { ANSWERS, LETTERS } from './letters/request-letter.ts';
import { KNOWN_BY, OUTCOMES } from './request.ts';
import { PAUSES } from './law/request-law.ts';

const Reason = z.string().trim().min(3, 'Say why').max(500, 'At most 500 characters');
const Paragraphs = z
  .array(z.string().trim().min(1).max(4000))
  .min(1, 'Write something')
  .max(60, 'At most 60 paragraphs');

/** What a handler does about a request. */
export const RequestAct = z.discriminatedUnion('act', [
  z.strictObject({ act: z.literal('assign'), to: z.int().min(1).nullable() }),
  z.strictObject({ act: z.literal('note'), words: Reason }),
  z.strictObject({
    act: z.literal('known'),
    by: z.enum(KNOWN_BY),
    words: z.string().trim().max(500).default(''),
  }),
  z.strictObject({ act: z.literal('wait'), why: z.enum(PAUSES), words: Reason }),
  z.strictObject({ act: z.literal('go on') }),
  /** One letter, as it was read over. */
  z.strictObject({
    act: z.literal('write'),
    letter: z.enum(LETTERS),
    subject: z.string().trim().min(1, 'Give it a subject').max(200),
    paragraphs: Paragraphs,
    /** For one that tells of a refusal or of more time. */
    reason: z.string().trim().max(500).default(''),
  }),
  z.strictObject({ act: z.literal('search') }),
  /** Whether a bearer of the name is the person; 32 hexadecimal digits. */
  z.strictObject({
    act: z.literal('tell apart'),
    bearer: z.string().regex(/^[0-9a-f]{32}$/),
    theirs: z.boolean(),
  }),
  z.strictObject({ act: z.literal('package') }),
  z.strictObject({
    act: z.literal('close'),
    outcome: z.enum(OUTCOMES),
    words: z.string().trim().max(500).default(''),
  }),
  z.strictObject({ act: z.literal('open again'), words: Reason }),
]);
export type RequestAct = z.infer<typeof RequestAct>;

/** What a person decides about something that is held. */
export const ItemAct = z.discriminatedUnion('act', [
  z.strictObject({ act: z.literal('right') }),
  z.strictObject({ act: z.literal('theirs'), theirs: z.boolean() }),
  z.strictObject({ act: z.literal('leave out'), ground: z.enum(GROUNDS), reason: Reason }),
  z.strictObject({ act: z.literal('take in') }),
  z.strictObject({
    act: z.literal('cover'),
    start: z.int().min(0),
    end: z.int().min(1),
    ground: z.enum(GROUNDS),
  }),
  z.strictObject({ act: z.literal('uncover'), start: z.int().min(0), end: z.int().min(1) }),
  /** Whoever asks to have it deleted gets it kept, for a reason of the law. */
  z.strictObject({ act: z.literal('keep'), reason: Reason }),
]);
export type ItemAct = z.infer<typeof ItemAct>;

export const isAnswer = (letter: string): boolean => (ANSWERS as readonly string[]).includes(letter);

/** What stands in the history of a request. */
export const STEP_KINDS = [
  'came in',
  'assign',
  'note',
  'asked',
  'known',
  'wait',
  'go on',
  'extended',
  'wrote',
  'answered',
  'search',
  'found',
  'routed',
  'task done',
  'reminded',
  'nudged',
  'told apart',
  'looked over',
  'package',
  'fetched',
  'agreed',
  'carried out',
  'close',
  'open again',
  'forgot',
] as const;
export type StepKind = (typeof STEP_KINDS)[number];
