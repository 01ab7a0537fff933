import { z } from 'zod';
import type { Lens } from '../../../core/lens/lens.ts';
import type { Context } from '../../context.ts';
import { askLens } from './index/ask-lens.ts';

/** All that lies in any of them. */
export const inSources = (sources: readonly string[]): Lens => ({
  any: sources.map((place) => ({ fact: 'place', is: 'in', place })),
});

/** What surveys found in systems: kinds of data with in how many items, and how many different people; `null` where nothing was read. */
export async function foundIn(
  ctx: Context,
  systems: readonly string[],
): Promise<{ readonly data: ReadonlyMap<string, number>; readonly people: number } | null> {
  if (systems.length === 0) return null;
  const sources = await ctx.store.all(
    z.object({ id: z.number() }),
    'SELECT id FROM source WHERE system_id IN (?)',
    [systems],
  );
  if (sources.length === 0) return null;
  const today = ctx.now().toISOString().slice(0, 10);
  const found = await askLens(ctx, {
    lens: inSources(sources.map((s) => String(s.id))),
    today,
    sources: null,
    ask: { what: 'figures' },
  });
  if (found.items === 0) return null;
  return { data: new Map(found.data.map((d) => [d.value, d.count])), people: found.people.people };
}
