import { z } from 'zod';
import type { ItemRow } from '../../../core/holdings/offers.ts';
import type { Day } from '../../../core/retention/clock/period.ts';
import { itemVerdict } from '../../../core/retention/verdict/item-verdict.ts';
import type { RetentionVerdict } from '../../../core/retention/verdict/retention-verdict.ts';
import {
  retentionWords,
  type RetentionNames as VerdictNames,
} from '../../../core/retention/verdict/verdict-words.ts';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { itemRows } from '../../holdings/offers.ts';
import type { Queries } from '../../store/pool.ts';
import {
  exceptionId,
  listExceptions,
  standingExceptions,
  type ListedException,
} from '../exceptions/exceptions.ts';
import { clockDaysOf, retentionWeighing, type Looked, type RetentionWeighing } from '../weighing.ts';

/** An item with the verdict on it. */
export interface JudgedItem {
  readonly item: ItemRow;
  readonly verdict: RetentionVerdict;
}

/** The verdicts on some items, by id; those that are gone are left out. `store` may be a transaction. */
export async function judgeItems(
  store: Queries,
  weighing: RetentionWeighing,
  ids: readonly number[],
): Promise<ReadonlyMap<number, JudgedItem>> {
  if (ids.length === 0) return new Map();
  const [rows, exceptions, clocks] = [
    await itemRows(store, ids),
    await standingExceptions(store, weighing.today, ids),
    await clockDaysOf(store, ids),
  ];
  const { zone, today, rules, bounds, holds } = weighing;
  return new Map(
    [...rows].map(([id, item]) => [
      id,
      {
        item,
        verdict: itemVerdict(
          item,
          { zone, rules, bounds, holds, exceptions },
          clocks.get(id) ?? new Map<string, Day>(),
          today,
        ),
      },
    ]),
  );
}

/** How what is weighed is called in sentences. */
export function verdictNames(
  { contents, bounds, holds }: RetentionWeighing,
  exceptions: ReadonlyMap<string, string>,
): VerdictNames {
  const bound = (id: string) => bounds.find((b) => b.id === id);
  return {
    rule: (id) => contents.get(id)?.name ?? exceptions.get(id) ?? `rule ${id}`,
    bound: (id) => `${bound(id)?.name ?? id}, ${bound(id)?.article ?? ''}`.replace(/, $/, ''),
    hold: (id) => holds.find((h) => h.id === id)?.name ?? id,
  };
}

export interface ItemRetention {
  readonly state: RetentionVerdict['state'];
  /** The first day on which it may go; null for good. */
  readonly goes: Day | null;
  readonly then: RetentionVerdict['then'];
  readonly by: { readonly id: string; readonly name: string; readonly isRule: boolean } | null;
  readonly holds: readonly { readonly id: string; readonly name: string; readonly matter: string }[];
  readonly why: readonly string[];
  readonly exceptions: readonly ListedException[];
  /** The disposal that it stands in, as long as that is open. */
  readonly disposal: string | null;
}

/** Why an item is still here, and when it goes. With a rule, as if that were in force as its draft stands. */
export async function retentionOfItem(
  ctx: Context,
  id: number,
  looked: Looked = 'in force',
): Promise<ItemRetention> {
  const weighing = await retentionWeighing(ctx, looked);
  const [judged, exceptions, open] = await Promise.all([
    judgeItems(ctx.store, weighing, [id]),
    listExceptions(ctx.store, weighing.today, id),
    ctx.store.one(
      z.object({ disposal_id: z.coerce.string() }),
      'SELECT disposal_id FROM disposal_item WHERE open_item = ?',
      [id],
    ),
  ]);
  const found = judged.get(id);
  if (!found) throw notFound('item');
  const { verdict } = found;
  const names = verdictNames(
    weighing,
    new Map(exceptions.map((e) => [exceptionId(e.id), `${e.words} (set by hand)`])),
  );
  return {
    state: verdict.state,
    goes: verdict.goes,
    then: verdict.then,
    by:
      verdict.by === undefined
        ? null
        : { id: verdict.by, name: names.rule(verdict.by), isRule: weighing.contents.has(verdict.by) },
    holds: weighing.holds
      .filter((h) => verdict.holds.includes(h.id))
      .map((h) => ({ id: h.id, name: h.name, matter: h.content.matter })),
    why: retentionWords(verdict, names),
    exceptions,
    disposal: open?.disposal_id ?? null,
  };
}
