import { z } from 'zod';
import { nextTime } from '../../../core/schedule/schedule.ts';
import type { Context } from '../../context.ts';
import { toDatetime } from '../../store/columns.ts';
import { findSiteById } from '../sites/sites.ts';
import { queueSweep } from './sweeps.ts';

const Id = z.object({ id: z.number() });

/** Queues the sweeps whose time has come; safe for many workers at once. A time missed while nothing ran is made up once. */
export async function startDueSweeps(ctx: Context): Promise<number> {
  const now = ctx.now();
  const due = await ctx.store.all(
    Id,
    'SELECT id FROM site WHERE next_sweep <= ? ORDER BY next_sweep LIMIT 50',
    [toDatetime(now)],
  );
  let started = 0;
  for (const { id } of due)
    await ctx.store.transaction(async (tx) => {
      const still = await tx.one(Id, 'SELECT id FROM site WHERE id = ? AND next_sweep <= ? FOR UPDATE', [
        id,
        toDatetime(now),
      ]);
      if (!still) return;
      const site = await findSiteById(tx, id);
      const next = site.schedule ? nextTime(site.schedule, now) : null;
      await tx.run('UPDATE site SET next_sweep = ? WHERE id = ?', [next && toDatetime(next), id]);
      if (site.schedule && (await queueSweep(tx, now, site, null))) started++;
    });
  return started;
}
