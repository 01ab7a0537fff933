import { z } from 'zod';
import { nearness } from '../../accounts/staff/audience.ts';
import { holds } from '../../lens/lens-item.ts';
import { Lens } from '../../lens/lens.ts';
import { ANSWERS, EVENT_ACTS, EVENT_KINDS, type ActivityEvent } from '../activity/event.ts';
import { CHANNELS } from '../handling/channel.ts';
import { OUTCOMES, type Situation } from '../handling/decision.ts';
import { motionFact } from '../handling/motion.ts';

export const SEVERITIES = ['low', 'medium', 'high'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** What an alert is about, as trends count them. */
export const CATEGORIES = [
  ...(['data leaving', 'people stopped', 'sign-ins', 'access', 'consent'] as const),
  ...(['rules and proof', 'devices'] as const),
] as const;
export type Category = (typeof CATEGORIES)[number];

/** Whose acts are counted together. */
export const COUNTED_BY = ['person', 'device', 'everybody'] as const;
export type CountedBy = (typeof COUNTED_BY)[number];

/** When a lookout raises. */
export const RaiseWhen = z.discriminatedUnion('is', [
  z.strictObject({ is: z.literal('every time') }),
  z.strictObject({
    is: z.literal('more than'),
    count: z.int().min(1, 'At least 1').max(100_000),
    minutes: z
      .int()
      .min(1, 'At least 1 minute')
      .max(30 * 1440, 'At most 30 days'),
    by: z.enum(COUNTED_BY),
  }),
  /** More on a day than chance would make of what is usual for them. */
  z.strictObject({
    is: z.literal('unusual'),
    days: z.int().min(7, 'At least 7 days').max(90, 'At most 90 days'),
    by: z.enum(COUNTED_BY),
  }),
]);
export type RaiseWhen = z.infer<typeof RaiseWhen>;

/** Which acts. */
export const WatchedActs = z.strictObject({
  /** None for any of each. */
  kinds: z.array(z.enum(EVENT_KINDS)).max(EVENT_KINDS.length),
  acts: z.array(z.enum(EVENT_ACTS)).max(EVENT_ACTS.length),
  channels: z.array(z.enum(CHANNELS)).max(CHANNELS.length),
  outcomes: z.array(z.enum(OUTCOMES)).max(OUTCOMES.length),
  answers: z.array(z.enum(ANSWERS)).max(ANSWERS.length),
  /** Changes at the desk, by the words of the ledger: `notice.pause`. */
  changes: z.array(z.string().min(1).max(80)).max(200),
  who: z.array(z.string().min(1).max(320)).max(200),
  but: z.array(z.string().min(1).max(320)).max(200),
  /** On the data; of what has none, only `everything` holds. */
  lens: Lens,
});
export type WatchedActs = z.infer<typeof WatchedActs>;

/** What is watched, and when that raises. */
export const Watch = WatchedActs.extend({ when: RaiseWhen });
export type Watch = z.infer<typeof Watch>;

/** Any act by anybody. */
export const ANY_ACTS: WatchedActs = {
  ...{ kinds: [], acts: [], channels: [], outcomes: [], answers: [], changes: [], who: [], but: [] },
  lens: { all: [] },
};

const oneOf = (list: readonly string[], value: string | null | undefined) =>
  list.length === 0 || (typeof value === 'string' && list.includes(value));

/** Whether an act is one of those that are watched. */
export function isWatched(watch: WatchedActs, event: ActivityEvent, { person, today }: Situation): boolean {
  if (!oneOf(watch.kinds, event.kind) || !oneOf(watch.acts, event.act)) return false;
  if (!oneOf(watch.channels, event.channel) || !oneOf(watch.outcomes, event.outcome)) return false;
  if (!oneOf(watch.answers, event.answer) || !oneOf(watch.changes, event.change?.action)) return false;
  if (watch.who.length > 0 && nearness(watch.who, person) === undefined) return false;
  if (nearness(watch.but, person) !== undefined) return false;
  const { item, findings } = event;
  return holds(watch.lens, (fact) => (item ? motionFact({ item, findings }, fact) : undefined), today);
}

const DAY = 86_400_000;

/** How far back of an act a lookout remembers, in milliseconds: twice what it counts, for acts that are told late. */
export function sightMs({ when }: Pick<Watch, 'when'>): number {
  switch (when.is) {
    case 'every time':
      return 0;
    case 'more than':
      return 2 * when.minutes * 60_000 + DAY;
    case 'unusual':
      return (2 * when.days + 1) * DAY;
  }
}
