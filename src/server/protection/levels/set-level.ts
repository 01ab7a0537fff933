import type { Account } from '../../../core/accounts/authority.ts';
import { may } from '../../../core/accounts/authority.ts';
import type { LevelContent } from '../../../core/protection/levels/level-content.ts';
import { lowering } from '../../../core/protection/publishing/published-levels.ts';
import { UnstampableError } from '../../../core/protection/stamp/marking.ts';
import { carrierOf } from '../../../core/protection/stamp/stamp-file.ts';
import { carriesNone, mayCarry } from '../../../core/protection/stamp/stamped-formats.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import type { Json } from '../../../core/rules/change.ts';
import { record, type NewEntry } from '../../evidence/ledger.ts';
import type { Queries } from '../../store/pool.ts';
import {
  connectSource,
  findItem,
  findSource,
  ItemError,
  itemRows,
  SourceError,
  type ListedItem,
  fetchWhole,
  ItemOwners,
  replaceWhole,
} from '../../holdings/offers.ts';
import { writeLevels, writeListed } from '../runs/level-step.ts';
import { doesNotGo, markedBytes } from '../runs/stamped-item.ts';
import { levelRanks, levelsInForce } from './levels.ts';

/**
 * Sets what somebody chose for an item, and stamps its document where that carries a marking. Throws a RefusedError for
 * a level that is not in force, or one that may only be lowered with a reason, or not by this account.
 */
export async function setLevelByHand(
  ctx: Context,
  account: Account,
  item: number,
  { level, reason }: { readonly level: string; readonly reason: string },
): Promise<{ readonly unstamped: string | null }> {
  const [rows, levels, ranks] = await Promise.all([
    itemRows(ctx.store, [item]),
    levelsInForce(ctx),
    levelRanks(ctx.store),
  ]);
  const row = rows.get(item);
  if (!row) throw new RefusedError('This item is gone.', [], 404);
  const chosen = levels.get(level);
  if (!chosen)
    throw new RefusedError('That level is not in force.', [
      { field: 'level', message: 'Choose one that is.' },
    ]);
  const before = row.level?.id;
  const had = before === undefined ? undefined : levels.get(before);
  const refused = lowering(
    before === undefined ? undefined : { id: before, lowered: had?.lowered ?? 'with a reason' },
    level,
    ranks,
    { reason, mayAlways: may(account, 'protection.put-in-force') },
  );
  if (refused === 'never') throw new RefusedError(`Only an officer lowers ${had?.name ?? 'it'}.`, [], 403);
  if (refused === 'needs a reason')
    throw new RefusedError('Lowering it needs a reason.', [
      { field: 'reason', message: 'Say why it may be lowered.' },
    ]);
  return putLevel(
    ctx,
    item,
    { id: level, content: chosen },
    {
      account: account.id,
      reason,
      entry: {
        actor: account.id,
        action: 'level.set',
        object: 'item',
        objectId: item,
        detail: { before: before ?? null, level, reason },
      },
    },
  );
}

/** Who decided, and what the ledger is told. */
interface Decided {
  readonly account: number | undefined;
  readonly reason: string;
  readonly entry: Omit<NewEntry, 'detail'> & { readonly detail: Readonly<Record<string, Json>> };
  /** What else changes, in the same transaction. */
  readonly also?: (tx: Queries, now: Date) => Promise<void>;
}

/** Gives an item the level that a person decided, and stamps its document where that carries a marking. */
export async function putLevel(
  ctx: Context,
  item: number,
  level: { readonly id: string; readonly content: LevelContent },
  { account, reason, entry, also }: Decided,
): Promise<{ readonly unstamped: string | null }> {
  const stamped = await stampOne(ctx, item, level);
  await ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    await writeLevels(tx, now, [
      {
        item,
        level: level.id,
        by: { is: 'hand' },
        ...(account === undefined ? {} : { account }),
        reason,
        unstamped: stamped.unstamped,
        hash: stamped.written?.hash ?? null,
      },
    ]);
    if (stamped.written) await writeListed(tx, item, stamped.written.listed, stamped.written.hash);
    await also?.(tx, now);
    await record(tx, now, { ...entry, detail: { ...entry.detail, stamped: stamped.unstamped === null } });
  });
  return { unstamped: stamped.unstamped };
}

interface Stamped {
  /** Why the document does not carry it; `null` where it does. */
  readonly unstamped: string | null;
  readonly written?: { readonly listed: ListedItem; readonly hash: Buffer };
}

async function stampOne(
  ctx: Context,
  id: number,
  level: { readonly id: string; readonly content: LevelContent },
): Promise<Stamped> {
  const item = await findItem(ctx.store, id);
  const kind = { format: item.format, name: item.title ?? item.name, unreadable: item.state !== 'read' };
  if (!mayCarry(kind)) return { unstamped: carriesNone(kind) };
  try {
    const connector = await connectSource(ctx, await findSource(ctx.store, item.source_id));
    try {
      if (!connector.replace) return { unstamped: 'Its source takes no changes.' };
      const was = await fetchWhole(connector, item);
      const why = doesNotGo(carrierOf(was.bytes), level.content);
      if (why !== undefined) return { unstamped: why };
      const owner = await new ItemOwners(ctx.store, ctx.now()).nameOf(item);
      const made = await markedBytes(was.bytes, { ...item, owner }, level, ctx.now());
      const { listed, hash } = Buffer.from(made).equals(was.bytes)
        ? was
        : await replaceWhole(connector, item, was, made);
      return { unstamped: null, written: { listed, hash } };
    } finally {
      await connector.close();
    }
  } catch (error) {
    if (error instanceof UnstampableError) return { unstamped: error.message };
    if (error instanceof ItemError || error instanceof SourceError)
      return { unstamped: `It could not be stamped: ${error.message}.` };
    throw error;
  }
}
