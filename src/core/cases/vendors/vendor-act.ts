import { z } from 'zod';
import { Mark } from '../linked/linked.ts';
import { VendorAnswer, VendorQuestion } from './questionnaire.ts';

const Reason = z.string().trim().min(3, 'Say why').max(2000, 'At most 2,000 characters');
const Said = z.strictObject({ by: z.int().min(1), at: z.iso.datetime(), words: z.string().max(2000) });

export const EVENT_KINDS = {
  breach: 'a breach of theirs',
  subprocessors: 'other subprocessors',
  certificate: 'a certificate',
  news: 'something that was heard of them',
} as const;
export type VendorEventKind = keyof typeof EVENT_KINDS;

export const EXIT_CHECKS = {
  data: 'they deleted or returned our data, and said so in writing',
  access: 'they get to nothing of ours any more',
  people: 'those who worked with it know what they use now',
} as const;
export type ExitCheck = keyof typeof EXIT_CHECKS;

const record = <K extends string, T extends z.ZodType>(keys: readonly K[], value: T) =>
  z.partialRecord(z.enum(keys as [K, ...K[]]), value);

/** What was asked, answered and decided of a vendor. */
export const VendorRecord = z.strictObject({
  /** What they were asked last, as it read then. */
  asked: z
    .strictObject({
      to: z.string(),
      at: z.iso.datetime(),
      until: z.iso.date(),
      name: z.string(),
      /** Of which it was then. */
      tier: z.union([z.literal(1), z.literal(2), z.literal(3)]),
      questions: z.array(VendorQuestion),
      /** When they sent it back, whole. */
      sentAt: z.iso.datetime().nullable(),
    })
    .nullable(),
  answers: z.record(z.string(), VendorAnswer),
  /** Gaps that are lived with, by question. */
  accepted: z.record(z.string(), Said),
  /** What somebody found of each clause, by its id. */
  clauses: z.record(z.string(), Said.extend({ there: z.boolean() })),
  events: z.array(
    z.strictObject({
      id: z.int().min(1),
      at: z.iso.datetime(),
      kind: z.enum(Object.keys(EVENT_KINDS) as [VendorEventKind, ...VendorEventKind[]]),
      words: z.string().max(1000),
      /** Somebody looked at it, and says what it comes to. */
      seen: Said.nullable(),
    }),
  ),
  approval: Said.extend({
    marks: z.array(Mark).max(5000),
    tier: z.int().min(1).max(3),
    on: z.iso.date(),
  }).nullable(),
  exit: z
    .strictObject({
      begun: Said,
      checks: record(Object.keys(EXIT_CHECKS) as ExitCheck[], Said),
    })
    .nullable(),
});
export type VendorRecord = z.infer<typeof VendorRecord>;

export const NO_VENDOR_RECORD: VendorRecord = {
  ...{ asked: null, answers: {}, accepted: {}, clauses: {}, events: [], approval: null, exit: null },
};

/** What somebody does about a vendor. */
export const VendorAct = z.discriminatedUnion('act', [
  /** Sends the questions of its tier to the contact; 0 for those that are shipped. */
  z.strictObject({ act: z.literal('ask'), questionnaire: z.int().min(0) }),
  z.strictObject({ act: z.literal('accept'), question: z.string().max(40), words: Reason }),
  z.strictObject({
    act: z.literal('clause'),
    clause: z.string().max(40),
    there: z.boolean(),
    words: z.string().trim().max(2000),
  }),
  z.strictObject({
    act: z.literal('event'),
    kind: z.enum(Object.keys(EVENT_KINDS) as [VendorEventKind, ...VendorEventKind[]]),
    words: Reason.max(1000),
  }),
  z.strictObject({ act: z.literal('seen'), event: z.int().min(1), words: Reason }),
  z.strictObject({ act: z.literal('approve'), words: z.string().trim().max(2000).default('') }),
  z.strictObject({ act: z.literal('look again'), words: Reason }),
  z.strictObject({ act: z.literal('leave'), words: Reason }),
  z.strictObject({ act: z.literal('stay'), words: Reason }),
  z.strictObject({
    act: z.literal('left'),
    check: z.enum(Object.keys(EXIT_CHECKS) as [ExitCheck, ...ExitCheck[]]),
    words: Reason,
  }),
  z.strictObject({ act: z.literal('note'), words: Reason }),
]);
export type VendorAct = z.infer<typeof VendorAct>;
