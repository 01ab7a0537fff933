import { z } from 'zod';
import { NoticeMeasure } from '../notice/notice-measure.ts';
import { PurposeCode } from '../notice/purpose-code.ts';
import { REGION_PATTERN } from '../notice/region.ts';
import { TRACKER_KINDS } from '../trackers/tracker.ts';

/** What visitors answer who walk side by side. */
export const ANSWERS = ['refuse', 'accept', 'choose'] as const;
export type Answer = (typeof ANSWERS)[number];

export const ANSWER_WORDS: Readonly<Record<Answer, string>> = {
  refuse: 'Refusing',
  accept: 'Allowing all',
  choose: 'Own choice',
};

/** What a visit is to be: a page or a few, as somebody in a region. */
export const VisitWish = z.strictObject({
  /** Addresses on the site, each from `/` on; the first with its parameters, as somebody comes to it. */
  pages: z
    .array(z.string().regex(/^\/[^\s]{0,1000}$/, 'A page begins with /, such as /offers?campaign=spring'))
    .min(1, 'Name a page')
    .max(5, 'At most 5 pages'),
  region: z.string().regex(REGION_PATTERN, 'A region such as DK or US-CA'),
  /** What the visitor with an own choice allows. */
  chosen: z.array(PurposeCode).max(20),
  gpc: z.boolean(),
});
export type VisitWish = z.infer<typeof VisitWish>;

const CauseStep = z.object({
  what: z.enum(['page', 'script', 'frame', 'style', 'response']),
  url: z.string(),
  line: z.number().optional(),
});

/** How a purpose stands, as the gate told it. */
const PurposeState = z.enum(['allowed', 'refused', 'waits', 'starts on']);

export const VERDICTS = ['permitted', 'reduced', 'too early', 'refused', 'unsorted'] as const;
/**
 * `too early`: before anybody answered, where the law asks first. `refused`: in spite of a refusal. `reduced`: before it
 * is allowed, and without anything that identifies.
 */
export type RunVerdict = (typeof VERDICTS)[number];

export const VisitEvent = z.object({
  /** Milliseconds since the visit began. */
  at: z.number(),
  /** 0 before the answer, 1 from it on, 2 on the second page, and so on. */
  phase: z.int(),
  what: z.enum([
    'asked',
    'start',
    'held',
    'ran',
    'stored',
    'shown',
    'answer',
    'state',
    'told',
    'recorded',
    'deleted',
    'page',
    'lost',
  ]),
  /** The same in another visitor's course has the same key. */
  key: z.string(),
  words: z.string(),
  /** What stands in the visitor's column; empty for the mark alone. */
  cell: z.string(),
  purpose: z.string().nullable().default(null),
  kind: z.enum(TRACKER_KINDS).optional(),
  host: z.string().default(''),
  name: z.string().default(''),
  cause: z.array(CauseStep).default([]),
  verdict: z.enum(VERDICTS).optional(),
  /** Why the verdict is what it is. */
  why: z.string().default(''),
  /** How purposes stood, where they changed. */
  purposes: z.record(z.string(), PurposeState).optional(),
  /** How often within its phase. */
  times: z.int().default(1),
});
export type VisitEvent = z.infer<typeof VisitEvent>;

export const Lane = z.object({
  answer: z.enum(ANSWERS),
  /** Empty where the visitor could answer. */
  whyNot: z.string(),
  events: z.array(VisitEvent),
  receipt: z.string(),
  /** The notice as it was rendered; absent where none was there. */
  measure: NoticeMeasure.optional(),
});
export type Lane = z.infer<typeof Lane>;

/** What happened in one visit, as it is kept and exported. */
export const VisitCourse = z.object({
  schema: z.literal('yare-warden/visit/1'),
  site: z.string(),
  /** ISO 8601, UTC. */
  begun: z.string(),
  wish: VisitWish,
  /** Version of the notice; 0 where none was in force. */
  notice: z.int(),
  regime: z.string(),
  law: z.string(),
  lanes: z.array(Lane),
});
export type VisitCourse = z.infer<typeof VisitCourse>;

export function ranTooEarly(event: Pick<VisitEvent, 'verdict'>): boolean {
  return event.verdict === 'too early' || event.verdict === 'refused';
}
