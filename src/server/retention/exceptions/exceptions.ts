import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { Bitmap } from '../../../core/lens/bitmap.ts';
import { ExceptionContent, exceptionWords } from '../../../core/retention/rules/exception.ts';
import { termOf } from '../../../core/retention/rules/term.ts';
import type { ResolvedException } from '../../../core/retention/verdict/weighed.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { itemRows } from '../../holdings/offers.ts';
import { BigId, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { guardItems } from '../policy.ts';
import { retentionNames } from '../retention-names.ts';

/** What somebody wants: how long, why, and up to which day that stands. */
export interface NewException {
  readonly content: ExceptionContent;
  readonly reason: string;
  /** The last day; null for good. */
  readonly until: string | null;
}

/** Has some items kept longer or shorter than the rules say; its number. In the caller's transaction. */
export async function putException(
  tx: Queries,
  now: Date,
  by: number | 'system',
  items: readonly number[],
  { content, reason, until }: NewException,
): Promise<number> {
  await guardItems(tx, 'keep');
  const { id } = await tx.run(
    'INSERT INTO retention_exception (content, reason, until, made_by, made_at) VALUES (?, ?, ?, ?, ?)',
    [JSON.stringify(content), reason, until, by === 'system' ? null : by, toDatetime(now)],
  );
  await tx.run('INSERT INTO retention_exception_item (item_id, exception_id) VALUES ?', [
    [...new Set(items)].map((item) => [item, id]),
  ]);
  await record(tx, now, {
    actor: by,
    action: 'retention-exception.make',
    object: 'retention exception',
    objectId: id,
    detail: {
      items: items.length,
      keep: exceptionWords(content, (await retentionNames(tx)).clocks),
      reason,
      until,
    },
  });
  return id;
}

/** The same, for somebody at the desk. Throws a RefusedError for items that are gone. */
export async function makeException(
  ctx: Context,
  account: Account,
  items: readonly number[],
  wish: NewException,
): Promise<{ readonly id: number; readonly items: number }> {
  const found = await itemRows(ctx.store, items);
  if (found.size === 0) throw new RefusedError('None of these items is held any more.', [], 404);
  const id = await ctx.store.transaction((tx) =>
    putException(tx, ctx.now(), account.id, [...found.keys()], wish),
  );
  return { id, items: found.size };
}

/** Takes an exception back: rules decide again. Throws a RefusedError (404). */
export async function endException(ctx: Context, account: Account, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    const { changed } = await tx.run(
      'UPDATE retention_exception SET ended_at = ? WHERE id = ? AND ended_at IS NULL',
      [toDatetime(now), id],
    );
    if (changed === 0) throw new RefusedError('This exception is over already.', [], 404);
    await record(tx, now, {
      actor: account.id,
      action: 'retention-exception.end',
      object: 'retention exception',
      objectId: id,
      detail: {},
    });
  });
}

/** As verdicts name one, apart from rules. */
export function exceptionId(number: number): string {
  return `item:${number}`;
}

const Standing = z.object({ id: z.number(), content: JsonColumn(ExceptionContent) });

/** Those that stand on a day, as they are weighed; of some items, or of all. */
export async function standingExceptions(
  store: Queries,
  today: string,
  items?: readonly number[],
): Promise<readonly ResolvedException[]> {
  const all = await store.all(
    Standing,
    `SELECT id, content FROM retention_exception WHERE ended_at IS NULL AND (until IS NULL OR until >= ?)${
      items ? ' AND id IN (SELECT exception_id FROM retention_exception_item WHERE item_id IN (?))' : ''
    } ORDER BY id`,
    [today, ...(items ? [items] : [])],
  );
  const found: ResolvedException[] = [];
  for (const { id, content } of all) {
    const term = termOf(content);
    if (!term) continue;
    const rows = await store.all(
      z.object({ item_id: BigId.transform(Number) }),
      `SELECT item_id FROM retention_exception_item WHERE exception_id = ?${items ? ' AND item_id IN (?)' : ''} ORDER BY item_id`,
      [id, ...(items ? [items] : [])],
    );
    found.push({
      ...term,
      id: exceptionId(id),
      items: Bitmap.of(rows.map((r) => r.item_id)),
      then: content.then,
      order: null,
    });
  }
  return found;
}

export interface ListedException {
  readonly id: number;
  readonly words: string;
  readonly reason: string;
  readonly until: string | null;
  readonly by: string | null;
  readonly at: string;
  readonly items: number;
}

/** Those that stand on a day, the newest first; of one item, or of all. */
export async function listExceptions(
  store: Queries,
  today: string,
  item?: number,
): Promise<readonly ListedException[]> {
  const rows = await store.all(
    Standing.extend({
      reason: z.string(),
      until: z.string().nullable(),
      made_at: Instant,
      name: z.string().nullable(),
      items: z.coerce.number(),
    }),
    `SELECT e.id, e.content, e.reason, e.until, e.made_at, a.name,
       (SELECT COUNT(*) FROM retention_exception_item i WHERE i.exception_id = e.id) AS items
     FROM retention_exception e LEFT JOIN account a ON a.id = e.made_by
     WHERE e.ended_at IS NULL AND (e.until IS NULL OR e.until >= ?)${
       item === undefined
         ? ''
         : ' AND e.id IN (SELECT exception_id FROM retention_exception_item WHERE item_id = ?)'
     } ORDER BY e.id DESC LIMIT 200`,
    [today, ...(item === undefined ? [] : [item])],
  );
  const { clocks } = await retentionNames(store);
  return rows.map(({ content, made_at, name, ...rest }) => ({
    ...rest,
    words: exceptionWords(content, clocks),
    by: name,
    at: made_at,
  }));
}
