import { z } from 'zod';
import { wilson, type Share } from '../../../core/interval.ts';
import type { Context } from '../../context.ts';
import { Count, toDatetime } from '../../store/columns.ts';
import { findSite } from '../sites/sites.ts';

export interface ConsentRates {
  readonly days: number;
  readonly choices: number;
  /** Share of choices that allowed at least one purpose; `null` without choices. */
  readonly allowedSomething: Share | null;
  readonly byRegion: readonly { readonly region: string; readonly choices: number; readonly share: Share }[];
}

/**
 * Each visitor counts once, with the latest choice within the days, so that changing one's mind does not count twice.
 */
export async function consentRates(ctx: Context, host: string, days: number): Promise<ConsentRates> {
  const site = await findSite(ctx.store, host);
  const since = toDatetime(new Date(ctx.now().getTime() - days * 86_400_000));
  const rows = await ctx.store.all(
    z.object({ region: z.string(), n: Count, some: Count }),
    `SELECT region, COUNT(*) AS n, SUM(choice <> 'refused all') AS some FROM (
       SELECT region, choice, ROW_NUMBER() OVER (PARTITION BY visitor_key ORDER BY at DESC, id DESC) AS place
       FROM consent_record WHERE site_id = ? AND at >= ?) latest
     WHERE place = 1 GROUP BY region ORDER BY n DESC`,
    [site.id, since],
  );
  const choices = rows.reduce((sum, r) => sum + r.n, 0);
  const some = rows.reduce((sum, r) => sum + r.some, 0);
  return {
    days,
    choices,
    allowedSomething: wilson(some, choices) ?? null,
    byRegion: rows.flatMap((r) => {
      const share = wilson(r.some, r.n);
      return share ? [{ region: r.region, choices: r.n, share }] : [];
    }),
  };
}
