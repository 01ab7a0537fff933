import { z } from 'zod';
import { EVENT_KINDS, type EventKind } from '../../../core/protection/activity/event.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { countEventsKept } from './event-store.ts';

/** Where nobody said otherwise. */
const USUAL_DAYS = 365;
export const MOST_DAYS = 3650;
const AT_ONCE = 5000;

/** How long what each kind tells is kept, in days; 0 where it is not. */
export async function daysKept(store: Queries): Promise<Readonly<Record<EventKind, number>>> {
  const rows = await store.all(
    z.object({ kind: z.string(), days: z.number() }),
    'SELECT kind, days FROM activity_kept',
  );
  const said = new Map(rows.map((r) => [r.kind, r.days]));
  return Object.fromEntries(EVENT_KINDS.map((k) => [k, said.get(k) ?? USUAL_DAYS])) as Record<
    EventKind,
    number
  >;
}

/** Throws a RefusedError (409) where somebody else said something meanwhile. */
export async function sayDaysKept(
  ctx: Context,
  by: number,
  { kind, days, saw }: { readonly kind: EventKind; readonly days: number; readonly saw: number },
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await tx.run('INSERT IGNORE INTO activity_kept (kind, days) VALUES (?, ?)', [kind, USUAL_DAYS]);
    const now = await tx.one(
      z.object({ days: z.number() }),
      'SELECT days FROM activity_kept WHERE kind = ? FOR UPDATE',
      [kind],
    );
    if (now?.days !== saw)
      throw new RefusedError(
        `Somebody said ${now?.days} days meanwhile. Look at it, and say it then.`,
        [],
        409,
      );
    await tx.run('UPDATE activity_kept SET days = ? WHERE kind = ?', [days, kind]);
    await record(tx, ctx.now(), {
      ...{
        actor: by,
        action: 'activity.keep',
        object: 'activity',
        objectId: kind,
        detail: { days, before: saw },
      },
    });
  });
}

/** Takes out what is older than it is kept; how many. */
export async function endOldEvents(ctx: Context): Promise<number> {
  let gone = 0;
  for (const [kind, days] of Object.entries(await daysKept(ctx.store))) {
    const before = toDatetime(new Date(ctx.now().getTime() - days * 86_400_000));
    for (let part = AT_ONCE; part === AT_ONCE; gone += part)
      part = await ctx.store.transaction(async (tx) => {
        const { changed } = await tx.run(
          `DELETE FROM activity_event WHERE kind = ? AND at < ? AND keep_days IS NULL LIMIT ${AT_ONCE}`,
          [kind, before],
        );
        await countEventsKept(tx, -changed);
        return changed;
      });
  }
  const byRules = await ctx.store.all(
    z.object({ days: z.number() }),
    'SELECT DISTINCT keep_days AS days FROM activity_event WHERE keep_days IS NOT NULL',
  );
  for (const { days } of byRules) {
    const before = toDatetime(new Date(ctx.now().getTime() - days * 86_400_000));
    for (let part = AT_ONCE; part === AT_ONCE; gone += part)
      part = await ctx.store.transaction(async (tx) => {
        const { changed } = await tx.run(
          `DELETE FROM activity_event WHERE keep_days = ? AND at < ? LIMIT ${AT_ONCE}`,
          [days, before],
        );
        await countEventsKept(tx, -changed);
        return changed;
      });
  }
  const longest = Math.max(...Object.values(await daysKept(ctx.store)), ...byRules.map((r) => r.days));
  const before = toDatetime(new Date(ctx.now().getTime() - longest * 86_400_000));
  for (const sql of [
    'DELETE FROM activity_finding WHERE at < ? LIMIT ?',
    'DELETE FROM activity_told WHERE taken_at < ? LIMIT ?',
  ])
    for (let part = AT_ONCE; part === AT_ONCE;) part = (await ctx.store.run(sql, [before, AT_ONCE])).changed;
  return gone;
}
