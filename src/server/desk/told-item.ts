import { z } from 'zod';
import { may, type Account, type Action } from '../../core/accounts/authority.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

export const TOLD_KINDS = ['process', 'ledger'] as const;
export type ToldKind = (typeof TOLD_KINDS)[number];

export interface ToldItem {
  readonly kind: ToldKind;
  /** Tells items of a kind apart; one that comes up again takes the place of the one before. */
  readonly key: string;
  /** What somebody must be allowed to do to see it. */
  readonly action: Action;
  readonly words: string;
  readonly detail: string;
  readonly link: string;
}

/** Puts something on Today that stands in no table of its own. */
export async function tellToday(store: Queries, at: Date, item: ToldItem): Promise<void> {
  await store.run(
    'REPLACE INTO today_item (kind, item_key, action, words, detail, link, since) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [
      item.kind,
      item.key.slice(0, 120),
      item.action,
      item.words.slice(0, 300),
      item.detail.slice(0, 500),
      item.link,
      toDatetime(at),
    ],
  );
}

/** Takes it off Today, since somebody saw to it. */
export async function dismissTold(
  ctx: Context,
  account: Account,
  kind: ToldKind,
  key: string,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const row = await tx.one(
      z.object({ action: z.string(), words: z.string() }),
      'SELECT action, words FROM today_item WHERE kind = ? AND item_key = ? FOR UPDATE',
      [kind, key],
    );
    if (!row) throw notFound('item');
    if (!may(account, row.action as Action))
      throw new RefusedError('This item is not for your role.', [], 403);
    await tx.run('DELETE FROM today_item WHERE kind = ? AND item_key = ?', [kind, key]);
    await record(tx, ctx.now(), {
      actor: account.id,
      action: 'today.dismiss',
      object: kind,
      objectId: key,
      detail: { words: [row.words] },
    });
  });
}
