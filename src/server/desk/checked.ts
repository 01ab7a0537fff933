import { z } from 'zod';
import { may, type Account } from '../../core/accounts/authority.ts';
import { isKept } from '../../core/accounts/scope.ts';
import { AREAS } from '../areas.ts';
import type { Context } from '../context.ts';
import { Count, Instant, toDatetime } from '../store/columns.ts';

/** How many were looked at in a day, and when last. */
export interface Checked {
  readonly one: string;
  readonly many: string;
  readonly count: number;
  /** ISO 8601; `null` for never. */
  readonly lastAt: string | null;
}

const CHECKING = AREAS.flatMap((a) => a.checking ?? []);
const DAY = 86_400_000;

/** What was looked at in the last day, as far as an account may know; nothing for who is kept to a part. */
export async function checkedLately(ctx: Context, account: Account): Promise<readonly Checked[]> {
  if (isKept(account)) return [];
  const since = toDatetime(new Date(ctx.now().getTime() - DAY));
  return Promise.all(
    CHECKING.filter((c) => may(account, c.see)).map(async ({ one, many, sql }) => {
      const row = await ctx.store.one(z.object({ n: Count, at: Instant.nullable() }), sql, [since]);
      return { one, many, count: row?.n ?? 0, lastAt: row?.at ?? null };
    }),
  );
}
