import { keepingBounds } from '../../../core/retention/verdict/item-verdict.ts';
import type { Day } from '../../../core/retention/clock/period.ts';
import type { Context } from '../../context.ts';
import type { Queries } from '../../store/pool.ts';
import { clockDaysOf, retentionWeighing } from '../weighing.ts';
import { judgeItems } from './item-retention.ts';

/** What keeps an item whoever wants it gone: a hold, or a law that asks to keep it. */
export type ItemKeeper =
  | { readonly is: 'hold'; readonly name: string; readonly matter: string }
  | { readonly is: 'law'; readonly name: string; readonly article: string; readonly until: Day | null };

/** Of some items, by their ids; those without one are left out. */
export async function keepersOf(
  ctx: Context,
  ids: readonly number[],
  store: Queries = ctx.store,
): Promise<ReadonlyMap<number, readonly ItemKeeper[]>> {
  const weighing = await retentionWeighing(ctx, 'in force', store);
  const [judged, clocks] = [await judgeItems(store, weighing, ids), await clockDaysOf(store, ids)];
  return new Map(
    [...judged].flatMap(([id, { item, verdict }]): [number, readonly ItemKeeper[]][] => {
      const keepers: ItemKeeper[] = [
        ...weighing.holds
          .filter((h) => verdict.holds.includes(h.id))
          .map((h) => ({ is: 'hold' as const, name: h.name, matter: h.content.matter })),
        ...keepingBounds(item, weighing, clocks.get(id) ?? new Map<string, Day>(), weighing.today).map(
          (k) => {
            const bound = weighing.bounds.find((b) => b.id === k.id);
            return {
              ...{ is: 'law' as const, until: k.until },
              ...{ name: bound?.name ?? k.id, article: bound?.article ?? '' },
            };
          },
        ),
      ];
      return keepers.length > 0 ? [[id, keepers]] : [];
    }),
  );
}
