import { may } from '../../../core/accounts/authority.ts';
import { isKept } from '../../../core/accounts/scope.ts';
import { dayIn } from '../../../core/retention/clock/period.ts';
import { reminderOf, REMINDERS } from '../../../core/retention/review/review.ts';
import { dayText } from '../../../core/text/day.ts';
import { listAccounts } from '../../accounts/account.ts';
import type { Context } from '../../context.ts';
import { replaceOnToday } from '../../desk/today.ts';
import { queueMail } from '../../outbox/outbox.ts';
import type { Queries } from '../../store/pool.ts';
import { readRetentionPolicy } from '../policy.ts';
import { listReviews, type Review } from './reviews.ts';
import { TO_REVIEW } from './review-letters.ts';

const PLACE = '/retention/schedule#review';
const NAMED = 10;

/** Has reviews that come near or are late on Today, and writes to those who look after the schedule, once for each step. */
export async function remindOfReviews(ctx: Context): Promise<void> {
  const { zone } = await readRetentionPolicy(ctx.store);
  const today = dayIn(ctx.now().toISOString(), zone);
  await ctx.store.transaction(async (tx) => {
    const near = (await listReviews(tx, ctx.now())).flatMap((r) => {
      const days = reminderOf(r.due, today);
      return days === undefined ? [] : [{ ...r, days }];
    });
    await showReviews(tx, near, ctx.now());
    const told: (Review & { readonly days: number })[] = [];
    for (const r of near) {
      const { changed } = await tx.run(
        'INSERT IGNORE INTO retention_review_reminder (kind, rule_id, due, days) VALUES (?, ?, ?, ?)',
        [r.kind, r.id, r.due, r.days],
      );
      if (changed > 0) told.push(r);
    }
    const [first] = told;
    if (!first) return;
    for (const to of await schedulers(tx))
      await queueMail(tx, ctx, {
        key: `reviews, ${to.id}, ${today}, ${first.kind} ${first.id} ${first.days}`,
        about: { object: 'retention policy', id: '1' },
        to: to.email,
        template: TO_REVIEW,
        values: {
          name: to.name,
          count: told.length === 1 ? `“${first.name}”` : `${told.length} rules`,
          rules:
            told
              .slice(0, NAMED)
              .map((r) => `“${r.name}” (${dayText(r.due)})`)
              .join(', ') + (told.length > NAMED ? ` and ${told.length - NAMED} more` : ''),
          when:
            first.due <= today
              ? `The first was due on ${dayText(first.due)}.`
              : `The first is due on ${dayText(first.due)}.`,
          link: ctx.settings.WEB_ORIGIN + PLACE,
        },
      });
  });
}

async function showReviews(tx: Queries, near: readonly Review[], now: Date): Promise<void> {
  const [first] = near;
  await replaceOnToday(
    tx,
    'retention reviews',
    first
      ? [
          {
            kind: 'review due',
            key: 'reviews',
            action: 'retention.edit',
            words:
              near.length === 1
                ? `“${first.name}” has to be looked at again`
                : `${near.length} rules of the schedule have to be looked at again`,
            detail:
              near.length === 1
                ? ''
                : near
                    .slice(0, 4)
                    .map((r) => r.name)
                    .join(', '),
            link: PLACE,
            since: new Date(Math.min(now.getTime(), Date.parse(first.due) - REMINDERS[0] * 86_400_000)),
            due: new Date(`${first.due}T12:00:00Z`),
          },
        ]
      : [],
  );
}

/** Accounts that may change all of the schedule. */
async function schedulers(tx: Queries) {
  const all = await listAccounts(tx, new Date(0));
  return all.filter((a) => a.disabledAt === null && may(a, 'retention.edit') && !isKept(a));
}
