import { z } from 'zod';
import { dayText } from '../../../core/text/day.ts';
import { staffLink } from '../../accounts/staff/staff-link.ts';
import type { Context } from '../../context.ts';
import { queueMail } from '../../outbox/outbox.ts';
import { Count, Instant, toDatetime } from '../../store/columns.ts';
import { TO_REVIEW } from './review-letters.ts';

const DAY = 86_400_000;
/** Days before the end on which who has not answered is written to again, and how often once it is over. */
const REMIND_AT = [7, 1] as const;
const AFTERWARDS_DAYS = 7;

const Asked = z.object({
  review_id: z.number(),
  name: z.string(),
  due: z.string(),
  staff: z.number(),
  address: z.string(),
  who: z.string(),
  open: Count,
  told: Instant.nullable(),
});

/** Whether somebody who was told at an instant is to be written to now. */
export function isReminderDue(told: string | null, due: string, now: Date): boolean {
  if (told === null) return true;
  const end = Date.parse(due) + DAY;
  const last = Date.parse(told);
  const days = REMIND_AT.map((n) => end - n * DAY);
  if (days.some((at) => last < at && at <= now.getTime())) return true;
  return now.getTime() > end && now.getTime() - last >= AFTERWARDS_DAYS * DAY;
}

/** Writes to owners who are asked, and again as the end comes near. */
export async function remindReviewOwners(ctx: Context): Promise<void> {
  const asked = await ctx.store.all(
    Asked,
    `SELECT l.review_id, r.name, r.due, s.id AS staff, s.address, s.name AS who, COUNT(*) AS open,
       MAX(COALESCE(l.reminded_at, l.told_at)) AS told
     FROM access_review_line l JOIN access_review r ON r.id = l.review_id AND r.state = 'open'
     JOIN staff s ON s.address = l.owner WHERE l.answer IS NULL GROUP BY l.review_id, r.name, r.due, s.id, s.address, s.name`,
  );
  for (const a of asked) {
    if (!isReminderDue(a.told, a.due, ctx.now())) continue;
    await ctx.store.transaction(async (tx) => {
      await queueMail(tx, ctx, {
        key: `review ${a.review_id}, ${a.staff}, ${ctx.now().toISOString().slice(0, 10)}`,
        about: { object: 'access review', id: a.review_id },
        to: a.address,
        template: TO_REVIEW,
        values: {
          ...{ name: a.who, review: a.name, count: a.open, due: dayText(a.due) },
          link: staffLink(ctx, 'who-may-keep', a.staff),
        },
      });
      await tx.run(
        'UPDATE access_review_line SET reminded_at = IF(told_at IS NULL, NULL, ?), told_at = COALESCE(told_at, ?) WHERE review_id = ? AND owner = ? AND answer IS NULL',
        [toDatetime(ctx.now()), toDatetime(ctx.now()), a.review_id, a.address],
      );
    });
  }
}
