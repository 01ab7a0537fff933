import { z } from 'zod';
import type { Action } from '../../../core/accounts/action.ts';
import type { Use } from '../../../core/accounts/roles/role-use.ts';
import type { Context } from '../../context.ts';
import { logFailure } from '../../processes/failure-log.ts';
import type { Queries } from '../../store/pool.ts';

/** What this process wrote down already, of one day. */
const noted = { day: '', uses: new Set<string>() };

/** A day, as uses are counted by: of UTC. */
export function useDay(now: Date): string {
  return now.toISOString().slice(0, 10);
}

/** Writes down that somebody used a permission, once a day. What cannot be written keeps nobody from their work. */
export async function noteUse(ctx: Context, accountId: number, action: Action): Promise<void> {
  const day = useDay(ctx.now());
  if (noted.day !== day) {
    noted.day = day;
    noted.uses.clear();
  }
  const use = `${accountId} ${action}`;
  if (noted.uses.has(use)) return;
  noted.uses.add(use);
  try {
    await ctx.store.run(
      `INSERT INTO permission_use (account_id, action, first_on, last_on, days) VALUES (?, ?, ?, ?, 1)
       ON DUPLICATE KEY UPDATE days = days + (last_on < VALUES(last_on)), last_on = GREATEST(last_on, VALUES(last_on))`,
      [accountId, action, day, day],
    );
  } catch (error) {
    noted.uses.delete(use);
    logFailure('could not note that a permission was used', error);
  }
}

const Row = z
  .object({ account_id: z.number(), action: z.string(), last_on: z.string() })
  .transform((r): Use => ({ account: r.account_id, action: r.action, lastOn: r.last_on }));

/** Of everybody, on `since` (a day) or later. */
export function usesSince(store: Queries, since: string): Promise<readonly Use[]> {
  return store.all(
    Row,
    'SELECT account_id, action, CAST(last_on AS CHAR) AS last_on FROM permission_use WHERE last_on >= ?',
    [since],
  );
}

/** The day since which uses are counted; `null` where none was. */
export async function countedSince(store: Queries): Promise<string | null> {
  const row = await store.one(
    z.object({ day: z.string().nullable() }),
    'SELECT CAST(MIN(first_on) AS CHAR) AS day FROM permission_use',
  );
  return row?.day ?? null;
}
