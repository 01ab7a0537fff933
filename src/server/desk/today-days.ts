import { z } from 'zod';
import type { Account } from '../../core/accounts/authority.ts';
import { isKept } from '../../core/accounts/scope.ts';
import { todayKind } from '../../core/desk/today-kinds.ts';
import type { Context } from '../context.ts';
import { Count, toDatetime } from '../store/columns.ts';
import { allowedTo } from './today.ts';

const DAY = 86_400_000;
/** What ended is told of for so long. */
const PAST_DAYS = 90;
const KEPT_DAYS = 1100;

const dayOf = (at: Date) => at.toISOString().slice(0, 10);

/** Keeps how many of each kind there are, for this day of UTC; 0 of those that there were the day before. */
export async function keepTodayDay(ctx: Context): Promise<void> {
  const now = ctx.now();
  const [day, before] = [dayOf(now), dayOf(new Date(now.getTime() - DAY))];
  await ctx.store.transaction(async (tx) => {
    await tx.run('DELETE FROM today_day WHERE day = ? OR day < ?', [
      day,
      dayOf(new Date(now.getTime() - KEPT_DAYS * DAY)),
    ]);
    await tx.run(
      `INSERT INTO today_day (day, kind, action, items)
       SELECT ?, kind, action, 0 FROM today_day WHERE day = ? AND items > 0`,
      [day, before],
    );
    await tx.run(
      `INSERT INTO today_day (day, kind, action, items)
       SELECT ?, kind, action, COUNT(*) FROM today_item GROUP BY kind, action
       ON DUPLICATE KEY UPDATE items = VALUES(items)`,
      [day],
    );
    await tx.run('DELETE FROM today_past WHERE ended_at < ?', [
      toDatetime(new Date(now.getTime() - PAST_DAYS * DAY)),
    ]);
    await tx.run('DELETE FROM today_put_off WHERE until < ?', [toDatetime(now)]);
  });
}

/** How many of a kind there were, day by day. */
export interface TodayTrend {
  readonly kind: string;
  readonly words: string;
  readonly tone: 'wrong' | 'news' | 'open';
  readonly days: readonly { readonly day: string; readonly items: number }[];
}

/** Of the kinds that an account may know of, since some days ago; nothing for who is kept to a part. */
export async function todayTrends(
  ctx: Context,
  account: Account,
  days: number,
): Promise<readonly TodayTrend[]> {
  if (isKept(account)) return [];
  const rows = await ctx.store.all(
    z.object({ kind: z.string(), day: z.string(), items: Count }),
    `SELECT kind, DATE_FORMAT(day, '%Y-%m-%d') AS day, SUM(items) AS items FROM today_day
     WHERE day > ? AND action IN (?) GROUP BY kind, day ORDER BY kind, day`,
    [dayOf(new Date(ctx.now().getTime() - days * DAY)), allowedTo(account)],
  );
  const all = new Map<string, { day: string; items: number }[]>();
  for (const { kind, day, items } of rows) all.set(kind, [...(all.get(kind) ?? []), { day, items }]);
  return [...all]
    .map(([kind, of]) => {
      const { words, tone } = todayKind(kind) ?? { words: kind, tone: 'open' as const };
      return { kind, words, tone, days: of };
    })
    .filter((t) => t.days.some((d) => d.items > 0))
    .toSorted((a, b) => place(a.kind) - place(b.kind));
}

const place = (kind: string) => todayKind(kind)?.place ?? 50;
