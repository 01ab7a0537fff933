import { z } from 'zod';
import type { Day } from '../../../core/retention/clock/period.ts';
import { itemVerdict } from '../../../core/retention/verdict/item-verdict.ts';
import type { Context } from '../../context.ts';
import { itemRows, removeCopy } from '../../holdings/offers.ts';
import { BigId, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { guardItems } from '../policy.ts';
import { retentionWeighing } from '../weighing.ts';
import { certifyDisposal } from './certify.ts';
import { settleReturning } from './put-back.ts';

const DAY = 86_400_000;
/** What a hold covers meanwhile is looked at again after so long. */
const HELD_DAYS = 30;
const AT_ONCE = 200;

const Aside = z.object({
  disposal_id: BigId,
  item_id: BigId.transform(Number),
  copy_id: BigId.nullable(),
});

/** Lets what was put aside go for good once its time is over; what a hold covers meanwhile is kept on. Certifies what is over. */
export async function endAside(ctx: Context): Promise<void> {
  await settleReturning(ctx);
  for (;;) {
    const more = await ctx.store.transaction(async (tx) => {
      await guardItems(tx, 'let go');
      const rows = await tx.all(
        Aside,
        "SELECT disposal_id, item_id, copy_id FROM disposal_item WHERE state = 'aside' AND claim IS NULL AND aside_until <= ? ORDER BY disposal_id, item_id LIMIT ? FOR UPDATE SKIP LOCKED",
        [toDatetime(ctx.now()), AT_ONCE],
      );
      if (rows.length === 0) return false;
      const held = await heldOf(
        tx,
        ctx,
        rows.map((r) => r.item_id),
      );
      for (const r of rows) {
        const by = held.get(r.item_id);
        if (by !== undefined) await keepAside(tx, ctx, r, by);
        else await letGoForGood(tx, ctx, r);
      }
      return rows.length === AT_ONCE;
    });
    if (!more) break;
  }
  const over = await ctx.store.all(
    z.object({ id: BigId }),
    `SELECT d.id FROM disposal d WHERE d.state = 'done' AND d.certificate IS NULL
     AND NOT EXISTS (SELECT 1 FROM disposal_item i WHERE i.disposal_id = d.id AND i.state IN ('waiting', 'begun', 'aside')) ORDER BY d.id LIMIT 50`,
  );
  for (const { id } of over) await certifyDisposal(ctx, id);
}

/** Holds that cover items that are aside, by item. */
async function heldOf(
  tx: Queries,
  ctx: Context,
  items: readonly number[],
): Promise<ReadonlyMap<number, string>> {
  const weighing = await retentionWeighing(ctx, 'in force', tx);
  if (weighing.holds.length === 0) return new Map();
  const rows = await itemRows(tx, items, { gone: true });
  const { zone, today, holds } = weighing;
  return new Map(
    [...rows].flatMap(([id, item]): [number, string][] => {
      const verdict = itemVerdict(
        item,
        { zone, rules: [], bounds: [], holds, exceptions: [] },
        new Map<string, Day>(),
        today,
      );
      const [first] = verdict.holds;
      return first === undefined ? [] : [[id, holds.find((h) => h.id === first)?.name ?? first]];
    }),
  );
}

async function keepAside(
  tx: Queries,
  ctx: Context,
  { disposal_id, item_id, copy_id }: z.infer<typeof Aside>,
  hold: string,
): Promise<void> {
  const until = new Date(ctx.now().getTime() + HELD_DAYS * DAY);
  await tx.run('UPDATE disposal_item SET aside_until = ?, why = ? WHERE disposal_id = ? AND item_id = ?', [
    toDatetime(until),
    `It is held by “${hold}” since it went; it can be put back.`.slice(0, 400),
    disposal_id,
    item_id,
  ]);
  await tx.run('UPDATE kept_copy SET keep_until = ? WHERE id = ?', [
    toDatetime(new Date(until.getTime() + 2 * HELD_DAYS * DAY)),
    copy_id,
  ]);
}

/** With what was found in it: nothing is known any more but that it was there. */
async function letGoForGood(
  tx: Queries,
  ctx: Context,
  { disposal_id, item_id, copy_id }: z.infer<typeof Aside>,
): Promise<void> {
  if (copy_id !== null) await removeCopy(tx, copy_id);
  await tx.run(
    "UPDATE disposal_item SET state = 'gone', copy_id = NULL, mark = NULL, aside_until = NULL, at = ? WHERE disposal_id = ? AND item_id = ?",
    [toDatetime(ctx.now()), disposal_id, item_id],
  );
}
