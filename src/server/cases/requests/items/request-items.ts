import { z } from 'zod';
import type { Account } from '../../../../core/accounts/authority.ts';
import type { ItemAct } from '../../../../core/cases/requests/request-act.ts';
import { merged } from '../../../../core/cases/requests/covers/propose-covers.ts';
import { Reading } from '../../../../core/cases/requests/covers/reading.ts';
import { notFound, RefusedError } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import { record } from '../../../evidence/ledger.ts';
import { toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { planChanges } from '../changes/plan-changes.ts';
import { showRequest } from '../request-facts.ts';
import { findRequest, openJson, sealJson } from '../request-row.ts';
import { ITEM_COLUMNS, ITEM_TABLES, ItemRow, type RequestItem } from './list-items.ts';
import { routeTasks } from '../tasks/route-tasks.ts';

export interface ViewedItem extends RequestItem {
  /** `null` once it was let go, or where it could not be read. */
  readonly reading: Reading | null;
}

/** One of them with its text; that it was read goes to the ledger. Throws a RefusedError (404). */
export async function viewItem(
  ctx: Context,
  account: Account,
  request: number,
  id: string,
): Promise<ViewedItem> {
  const row = await ctx.store.one(
    ItemRow,
    `SELECT ${ITEM_COLUMNS} FROM ${ITEM_TABLES} WHERE i.request_id = ? AND i.id = ?`,
    [request, id],
  );
  if (!row) throw notFound('item');
  const reading = await readingOf(ctx.store, ctx, id);
  await record(ctx.store, ctx.now(), {
    ...{
      actor: account.id,
      action: 'request-item.read',
      object: 'request item',
      objectId: id,
      detail: { request },
    },
  });
  return { ...row, reading: reading ?? null };
}

export async function readingOf(
  store: Queries,
  ctx: Pick<Context, 'settings'>,
  id: string,
): Promise<Reading | undefined> {
  const row = await store.one(
    z.object({ reading: z.string().nullable() }),
    'SELECT reading FROM request_item WHERE id = ?',
    [id],
  );
  return row?.reading ? Reading.parse(openJson(ctx, row.reading)) : undefined;
}

/** Decides something about one of them. Throws a RefusedError (400, 404, 409). */
export async function actOnItem(
  ctx: Context,
  account: Account,
  request: number,
  id: string,
  act: ItemAct,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { outcome } = await findRequest(tx, request, true);
    if (outcome !== null) throw new RefusedError('The request is closed.', [], 409);
    const row = await tx.one(
      z.object({ state: z.string(), theirs: z.string(), change_state: z.string().nullable() }),
      'SELECT state, theirs, change_state FROM request_item WHERE id = ? AND request_id = ? FOR UPDATE',
      [id, request],
    );
    if (!row) throw notFound('item');
    if (row.change_state === 'done') throw new RefusedError('It is gone already.', [], 409);
    const set = (sql: string, ...values: readonly (string | number | null)[]) =>
      tx.run(
        `UPDATE request_item SET ${sql}, looked_by = ?, looked_at = ?, version = version + 1 WHERE id = ?`,
        [...values, account.id, toDatetime(ctx.now()), id],
      );
    switch (act.act) {
      case 'right':
        if (row.state === 'unreadable')
          throw new RefusedError(
            'It could not be read: look for it again, or leave it out and say why.',
            [],
            409,
          );
        if (row.theirs === 'ask') throw new RefusedError('Say first whose it is.', [], 409);
        await set("state = 'right', ground = NULL, reason = ''");
        break;
      case 'theirs':
        await set('theirs = ?', act.theirs ? 'yes' : 'no');
        break;
      case 'leave out':
        await set(
          "state = 'left out', theirs = IF(theirs = 'ask', 'yes', theirs), ground = ?, reason = ?",
          act.ground,
          act.reason,
        );
        break;
      case 'take in':
        await set("state = IF(reading IS NULL, 'unreadable', 'to look over'), ground = NULL, reason = ''");
        break;
      case 'keep':
        await set("ground = 'kept', reason = ?", act.reason);
        break;
      case 'cover':
      case 'uncover':
        await changeCovers(tx, ctx, id, act);
        await set("state = IF(state = 'left out', state, 'to look over')");
    }
    await record(tx, ctx.now(), {
      ...{
        actor: account.id,
        action: `request.item-${act.act.replaceAll(' ', '-')}`,
        object: 'request',
        objectId: request,
      },
      detail: { item: Number(id), ...('ground' in act ? { ground: act.ground } : {}) },
    });
    if (act.act === 'theirs' || act.act === 'keep') await planChanges(tx, ctx, request);
    await routeTasks(tx, ctx, request);
    await showRequest(tx, ctx, request);
  });
}

async function changeCovers(
  tx: Queries,
  ctx: Context,
  id: string,
  act: Extract<ItemAct, { act: 'cover' | 'uncover' }>,
): Promise<void> {
  const reading = await readingOf(tx, ctx, id);
  if (!reading) throw new RefusedError('Its text is not there.', [], 409);
  const { start, end } = act;
  if (start >= end || end > reading.text.length)
    throw new RefusedError('There is no such stretch.', [
      { field: 'end', message: `From 0 to ${reading.text.length}.` },
    ]);
  const overlaps = (s: { start: number; end: number }) => s.start < end && start < s.end;
  const covers =
    act.act === 'cover'
      ? merged([...reading.covers, { start, end, what: 'word', ground: act.ground, by: 'hand' }])
      : reading.covers.filter((c) => !overlaps(c));
  // What somebody decided about is in doubt no more.
  const doubts = reading.doubts.filter((d) => !overlaps(d));
  await tx.run('UPDATE request_item SET reading = ?, covers = ?, doubts = ? WHERE id = ?', [
    sealJson(ctx, { ...reading, covers: [...covers], doubts }),
    ...[covers.length, doubts.length, id],
  ]);
}
