import { z } from 'zod';
import { KEPT } from '../../../core/retention/rules/exception.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { BigId, Count, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { putException } from '../exceptions/exceptions.ts';
import { findDisposal, type DisposalRow } from './disposals.ts';
import { showDisposal } from './show-disposal.ts';

/** Whoever says a word: at the desk, or by a link that was sent to them. */
export interface Speaker {
  readonly address: string;
  readonly name: string;
  /** null for somebody without an account. */
  readonly account: number | null;
  /** Of whoever came by a link. */
  readonly staff?: number;
}

export interface Word {
  readonly agrees: boolean;
  readonly reason: string;
  /** Where they do not: up to which day it stays; null until that is taken back. */
  readonly until: string | null;
}

/**
 * Says that a disposal may go on, or may not. With as many as it needs, it is agreed to; one who does not agree keeps all of
 * it, for a time, with the reason. Throws a RefusedError for a word that is not asked, or said already.
 */
export async function sayToDisposal(
  ctx: Context,
  who: Speaker,
  id: string,
  { agrees, reason, until }: Word,
): Promise<{ readonly state: DisposalRow['state']; readonly missing: number }> {
  return ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    const disposal = await findDisposal(tx, id, true);
    requireAsked(disposal, who);
    if (!agrees && reason.trim() === '')
      throw new RefusedError('Say why it has to stay.', [{ field: 'reason', message: 'Give the reason.' }]);
    const { changed } = await tx.run(
      'INSERT IGNORE INTO disposal_word (disposal_id, address, name, account_id, agrees, reason, at) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [id, who.address.toLowerCase(), who.name, who.account, agrees, reason, toDatetime(now)],
    );
    if (changed === 0)
      throw new RefusedError('You said a word to this already; somebody else has to.', [], 409);
    await record(tx, now, {
      actor: who.account ?? 'system',
      action: agrees ? 'disposal.agree' : 'disposal.refuse',
      object: 'disposal',
      objectId: id,
      detail: { reason, by: who.account === null ? 'its owner, by letter' : 'at the desk' },
    });
    if (!agrees) {
      await keepItems(tx, ctx, disposal, await waitingItems(tx, id), { who, reason, until });
      await endDisposal(tx, ctx, id, 'refused');
      return { state: 'refused' as const, missing: 0 };
    }
    const said = await tx.one(
      z.object({ n: Count }),
      'SELECT COUNT(*) AS n FROM disposal_word WHERE disposal_id = ? AND agrees',
      [id],
    );
    const missing = Math.max(0, disposal.needed - (said?.n ?? 0));
    if (missing === 0)
      await tx.run("UPDATE disposal SET state = 'agreed', agreed_at = ? WHERE id = ?", [toDatetime(now), id]);
    await showDisposal(tx, ctx, id);
    return { state: missing === 0 ? ('agreed' as const) : ('asked' as const), missing };
  });
}

/** Takes some items out of a disposal that is asked about: they stay, with a reason, up to a day. */
export async function keepFromDisposal(
  ctx: Context,
  who: Speaker,
  id: string,
  items: readonly number[],
  { reason, until }: Pick<Word, 'reason' | 'until'>,
): Promise<{ readonly kept: number; readonly left: number }> {
  if (reason.trim() === '')
    throw new RefusedError('Say why they have to stay.', [{ field: 'reason', message: 'Give the reason.' }]);
  return ctx.store.transaction(async (tx) => {
    const disposal = await findDisposal(tx, id, true);
    requireAsked(disposal, who);
    const waiting = new Set(await waitingItems(tx, id));
    const wanted = [...new Set(items)].filter((i) => waiting.has(i));
    await keepItems(tx, ctx, disposal, wanted, { who, reason, until });
    const left = waiting.size - wanted.length;
    if (left === 0) await endDisposal(tx, ctx, id, 'refused');
    else await showDisposal(tx, ctx, id);
    return { kept: wanted.length, left };
  });
}

function requireAsked({ state, staff_id }: DisposalRow, { staff }: Speaker): void {
  if (staff !== undefined && staff !== staff_id)
    throw new RefusedError('There is no such disposal.', [], 404);
  if (state !== 'asked')
    throw new RefusedError(
      state === 'refused' ? 'It was refused already.' : 'It was agreed to already.',
      [],
      409,
    );
}

async function waitingItems(tx: Queries, id: string): Promise<readonly number[]> {
  const rows = await tx.all(
    z.object({ item_id: BigId.transform(Number) }),
    "SELECT item_id FROM disposal_item WHERE disposal_id = ? AND state = 'waiting' ORDER BY item_id FOR UPDATE",
    [id],
  );
  return rows.map((r) => r.item_id);
}

async function keepItems(
  tx: Queries,
  ctx: Context,
  { id }: Pick<DisposalRow, 'id'>,
  items: readonly number[],
  {
    who,
    reason,
    until,
  }: {
    readonly who: Pick<Speaker, 'account' | 'name'>;
    readonly reason: string;
    readonly until: string | null;
  },
): Promise<void> {
  if (items.length === 0) return;
  const now = ctx.now();
  await tx.run(
    "UPDATE disposal_item SET state = 'kept', why = ?, at = ? WHERE disposal_id = ? AND item_id IN (?)",
    [`${who.name}: ${reason}`.slice(0, 400), toDatetime(now), id, items],
  );
  await putException(tx, now, who.account ?? 'system', items, {
    content: KEPT,
    reason: `${who.name}, asked whether it may go: ${reason}`.slice(0, 400),
    until,
  });
}

export async function endDisposal(
  tx: Queries,
  ctx: Context,
  id: string,
  state: 'done' | 'refused',
): Promise<void> {
  await tx.run('UPDATE disposal SET state = ?, ended_at = ? WHERE id = ?', [
    state,
    toDatetime(ctx.now()),
    id,
  ]);
  await showDisposal(tx, ctx, id);
}

/** Does what a rule says of those who did not answer in time. */
export async function answerForTheSilent(ctx: Context): Promise<void> {
  const late = await ctx.store.all(
    z.object({ id: BigId }),
    "SELECT id FROM disposal WHERE state = 'asked' AND answer_by <= ? ORDER BY id LIMIT 100",
    [toDatetime(ctx.now())],
  );
  for (const { id } of late)
    await ctx.store.transaction(async (tx) => {
      const disposal = await findDisposal(tx, id, true);
      if (disposal.state !== 'asked' || disposal.answer_by === null) return;
      const now = ctx.now();
      switch (disposal.silent) {
        case 'officer':
          // It stays asked; Today tells that it is the office's to say.
          await tx.run('UPDATE disposal SET answer_by = NULL WHERE id = ?', [id]);
          break;
        case 'delete': {
          const said = await tx.one(
            z.object({ n: Count }),
            'SELECT COUNT(*) AS n FROM disposal_word WHERE disposal_id = ? AND agrees',
            [id],
          );
          // Silence is one word, never two.
          if ((said?.n ?? 0) + 1 >= disposal.needed)
            await tx.run(
              "UPDATE disposal SET state = 'agreed', agreed_at = ?, answer_by = NULL WHERE id = ?",
              [toDatetime(now), id],
            );
          else await tx.run('UPDATE disposal SET answer_by = NULL WHERE id = ?', [id]);
          break;
        }
        case 'keep': {
          const days = Math.max(
            1,
            Math.round((Date.parse(disposal.answer_by) - Date.parse(disposal.made_at)) / 86_400_000),
          );
          await keepItems(tx, ctx, disposal, await waitingItems(tx, id), {
            who: { account: null, name: 'Nobody answered' },
            reason: 'asked again later',
            until: new Date(now.getTime() + days * 86_400_000).toISOString().slice(0, 10),
          });
          await endDisposal(tx, ctx, id, 'refused');
          break;
        }
      }
      await record(tx, now, {
        actor: 'worker',
        action: 'disposal.no-answer',
        object: 'disposal',
        objectId: id,
        detail: { goesTo: disposal.silent },
      });
      await showDisposal(tx, ctx, id);
    });
}
