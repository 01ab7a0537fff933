import { z } from 'zod';
import type { Action } from '../../core/accounts/action.ts';
import { may, type Account } from '../../core/accounts/authority.ts';
import { inScope } from '../../core/accounts/scope.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import { dayText } from '../../core/text/day.ts';
import { findAccount } from '../accounts/account.ts';
import { peopleWho } from '../accounts/account-names.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { Instant, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

const DAY = 86_400_000;
/** Nothing is put off for longer. */
const MOST_DAYS = 90;

const Row = z.object({
  action: z.string(),
  words: z.string(),
  due: Instant.nullable(),
  steady: z.number(),
  assigned_to: z.number().nullable(),
  within_object: z.string(),
  within_id: z.string(),
});

/** An item that an account may see. Throws a RefusedError (403, 404). */
async function seenItem(
  tx: Queries,
  account: Account,
  kind: string,
  key: string,
  lock = true,
): Promise<z.infer<typeof Row>> {
  const row = await tx.one(
    Row,
    `SELECT action, words, due, steady, assigned_to, within_object, within_id FROM today_item WHERE kind = ? AND item_key = ?${lock ? ' FOR UPDATE' : ''}`,
    [kind, key],
  );
  if (!row) throw notFound('item');
  const others = (row.assigned_to ?? account.id) !== account.id;
  if (!may(account, row.action as Action) || others || !inScope(account, row.within_object, row.within_id))
    throw new RefusedError('This item is not for your role.', [], 403);
  return row;
}

/** Takes an item out of somebody’s sight until a moment, or until it says something else; until it is due at most. */
export async function putOff(
  ctx: Context,
  account: Account,
  kind: string,
  key: string,
  until: Date,
): Promise<void> {
  const now = ctx.now().getTime();
  const refuse = (message: string) => {
    throw new RefusedError('It is not put off.', [{ field: 'until', message }]);
  };
  if (until.getTime() <= now) refuse('Choose a day to come.');
  if (until.getTime() > now + MOST_DAYS * DAY) refuse(`Choose a day within ${MOST_DAYS} days.`);
  await ctx.store.transaction(async (tx) => {
    const item = await seenItem(tx, account, kind, key);
    if (item.due !== null && until.getTime() > Date.parse(item.due))
      refuse(
        Date.parse(item.due) <= now
          ? 'Its time is over: it cannot wait.'
          : `It is due on ${dayText(item.due.slice(0, 10))}: choose a day before that.`,
      );
    await tx.run('REPLACE INTO today_put_off (account_id, kind, item_key, until, steady) VALUES (?)', [
      [account.id, kind, key, toDatetime(until), item.steady],
    ]);
  });
}

export async function takeUpAgain(ctx: Context, account: Account, kind: string, key: string): Promise<void> {
  await ctx.store.run('DELETE FROM today_put_off WHERE account_id = ? AND kind = ? AND item_key = ?', [
    account.id,
    kind,
    key,
  ]);
}

/** Who else could have an item, by name. Throws a RefusedError (403, 404). */
export async function whoCouldHave(
  ctx: Context,
  account: Account,
  kind: string,
  key: string,
): Promise<readonly { readonly id: number; readonly name: string }[]> {
  const { store } = ctx;
  const item = await seenItem(store, account, kind, key, false);
  const able = (await peopleWho(store, item.action as Action)).filter((p) => p.able && p.id !== account.id);
  const found: { id: number; name: string }[] = [];
  for (const { id, name } of able) {
    // What belongs to nothing that accounts are kept to is for all of them.
    const isOpen =
      item.within_object === '' ||
      inScope((await findAccount(store, id)).account, item.within_object, item.within_id);
    if (isOpen) found.push({ id, name });
  }
  return found;
}

/** Hands an item on to one person, who has it from then on before all others. Throws a RefusedError (400, 403, 404, 409). */
export async function handOn(
  ctx: Context,
  account: Account,
  kind: string,
  key: string,
  to: number,
  words: string,
): Promise<void> {
  const able = await whoCouldHave(ctx, account, kind, key);
  const taker = able.find((p) => p.id === to);
  if (!taker)
    throw new RefusedError('It is not handed on.', [
      { field: 'to', message: 'Choose somebody else whose role includes it.' },
    ]);
  await ctx.store.transaction(async (tx) => {
    const item = await seenItem(tx, account, kind, key);
    if (item.assigned_to !== null)
      throw new RefusedError('It is yours alone: hand it on where it comes from.', [], 409);
    await tx.run('REPLACE INTO today_handed (kind, item_key, to_account, by_account, at, words) VALUES (?)', [
      [kind, key, to, account.id, toDatetime(ctx.now()), words],
    ]);
    await tx.run('DELETE FROM today_put_off WHERE account_id = ? AND kind = ? AND item_key = ?', [
      to,
      kind,
      key,
    ]);
    await record(tx, ctx.now(), {
      ...{ actor: account.id, action: 'today.hand-on', object: kind, objectId: key },
      detail: { words: [item.words], to },
    });
  });
}

/** Has an item be nobody’s in particular again: by who handed it on, or who has it. Throws a RefusedError (403, 404). */
export async function takeBack(ctx: Context, account: Account, kind: string, key: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const item = await seenItem(tx, account, kind, key);
    const handed = await tx.one(
      z.object({ to_account: z.number(), by_account: z.number() }),
      'SELECT to_account, by_account FROM today_handed WHERE kind = ? AND item_key = ?',
      [kind, key],
    );
    if (!handed) throw notFound('item that was handed on');
    const isMine = [handed.to_account, handed.by_account].includes(account.id);
    if (!isMine && !may(account, 'today.team'))
      throw new RefusedError('Who handed it on, or who has it, can take it back.', [], 403);
    await tx.run('DELETE FROM today_handed WHERE kind = ? AND item_key = ?', [kind, key]);
    await record(tx, ctx.now(), {
      ...{ actor: account.id, action: 'today.take-back', object: kind, objectId: key },
      detail: { words: [item.words] },
    });
  });
}
