import { z } from 'zod';
import { dayAfter, lastDayOf, type Day } from '../clock/period.ts';

export const REVIEW_ANSWERS = {
  stands: 'It stands',
  change: 'It is to be changed',
  ends: 'It is to end',
} as const;
export type ReviewAnswer = keyof typeof REVIEW_ANSWERS;

export const ReviewInput = z
  .strictObject({
    answer: z.enum(Object.keys(REVIEW_ANSWERS) as [ReviewAnswer, ...ReviewAnswer[]]),
    reason: z.string().trim().max(400),
  })
  .refine((r) => r.answer === 'stands' || r.reason !== '', { path: ['reason'], message: 'Say why.' });

/** Days before a review is due on which people are reminded; behind it, every so many days. */
export const REMINDERS = [30, 7, 0] as const;
export const REMIND_EVERY = 14;

/** When a rule has to be looked at again: a year after it was, or after it was put in force. */
export function reviewDue(since: Day): Day {
  return dayAfter(lastDayOf(since, { count: 1, unit: 'years' }));
}

/**
 * Which reminder of a review is the one to send: the latest whose day has come, in days before (or, below 0, behind) the day
 * that it is due; `undefined` before the first.
 */
export function reminderOf(due: Day, today: Day): number | undefined {
  const left = Math.round((Date.parse(`${due}T00:00:00Z`) - Date.parse(`${today}T00:00:00Z`)) / 86_400_000);
  // A break, as between years, is no reason to say it three times: the latest counts.
  if (left <= -REMIND_EVERY) return -Math.floor(-left / REMIND_EVERY) * REMIND_EVERY;
  return REMINDERS.findLast((days) => left <= days);
}
