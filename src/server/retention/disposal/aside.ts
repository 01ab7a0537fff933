import { z } from 'zod';
import type { Day } from '../../../core/retention/clock/period.ts';
import { itemVerdict } from '../../../core/retention/verdict/item-verdict.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { asSentence } from '../../../core/text/as-sentence.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import {
  connectSource,
  findItem,
  findSource,
  ItemError,
  itemRows,
  readCopy,
  removeCopy,
  renameItem,
  SourceError,
  touchBlocks,
} from '../../holdings/offers.ts';
import { BigId, Bytes, Count, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { guardItems } from '../policy.ts';
import { retentionWeighing } from '../weighing.ts';
import { findDisposal } from './disposals.ts';
import { certifyDisposal } from './certify.ts';

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
  for (;;) {
    const more = await ctx.store.transaction(async (tx) => {
      await guardItems(tx, 'let go');
      const rows = await tx.all(
        Aside,
        "SELECT disposal_id, item_id, copy_id FROM disposal_item WHERE state = 'aside' AND aside_until <= ? ORDER BY disposal_id, item_id LIMIT ? FOR UPDATE SKIP LOCKED",
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

/** Puts what went back where it was, as long as it is kept. Throws a RefusedError where nothing of it is, or none could be. */
export async function putBack(
  ctx: Context,
  account: { readonly id: number },
  id: string,
  items: readonly number[] | undefined,
): Promise<{ readonly back: number; readonly left: readonly string[] }> {
  await findDisposal(ctx.store, id);
  const rows = await ctx.store.all(
    Aside.extend({ source_id: z.number(), mark: JsonColumn(z.json()), hash: Bytes, size: Count }),
    `SELECT disposal_id, item_id, copy_id, source_id, mark, hash, size FROM disposal_item
     WHERE disposal_id = ? AND state = 'aside'${items ? ' AND item_id IN (?)' : ''} ORDER BY source_id, item_id`,
    [id, ...(items ? [items] : [])],
  );
  if (rows.length === 0)
    throw new RefusedError(
      'None of it can be put back any more.',
      [{ field: 'items', message: 'It is gone for good, or back already.' }],
      409,
    );
  let back = 0;
  const left: string[] = [];
  for (const source of new Set(rows.map((r) => r.source_id))) {
    let connector;
    try {
      connector = await connectSource(ctx, await findSource(ctx.store, source));
    } catch (error) {
      if (!(error instanceof SourceError)) throw error;
      left.push(`${asSentence(error.message)}`);
      continue;
    }
    try {
      for (const row of rows.filter((r) => r.source_id === source)) {
        const item = await findItem(ctx.store, row.item_id);
        try {
          const bytes = row.copy_id === null ? undefined : await readCopy(ctx, row.copy_id);
          if (!bytes || !connector.restore) throw new ItemError('it is not kept any more');
          const listed = await connector.restore(
            item.path,
            {
              name: item.name,
              ...(item.title ? { title: item.title } : {}),
              size: row.size,
              created: item.created_at,
              changed: item.changed_at,
              owner: item.owner,
              version: item.version,
            },
            bytes,
            row.mark,
          );
          await ctx.store.transaction(async (tx) => {
            await tx.run(
              "UPDATE disposal_item SET state = 'back', copy_id = NULL, aside_until = NULL, at = ? WHERE disposal_id = ? AND item_id = ?",
              [toDatetime(ctx.now()), id, row.item_id],
            );
            await tx.run("UPDATE item SET state = 'read', version = ? WHERE id = ?", [
              listed.version,
              row.item_id,
            ]);
            await renameItem(tx, row.item_id, listed.name);
            await touchBlocks(tx, [row.item_id]);
            if (row.copy_id !== null) await removeCopy(tx, row.copy_id);
          });
          back++;
        } catch (error) {
          if (!(error instanceof ItemError)) throw error;
          left.push(`${item.title ?? item.name}: ${error.message}.`);
        }
      }
    } finally {
      await connector.close();
    }
  }
  await record(ctx.store, ctx.now(), {
    actor: account.id,
    action: 'disposal.put-back',
    object: 'disposal',
    objectId: id,
    detail: { back, left: left.length },
  });
  return { back, left };
}
